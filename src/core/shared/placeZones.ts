/**
 * Countries (ISO 3166-1 alpha-2) that have one time zone, from `zone.tab` of the IANA tz database.
 * Countries with several are left out: to guess would write to people in the night. Germany is in,
 * since its second zone (Büsingen) keeps the same time as the first.
 */
const COUNTRY_ZONES: Readonly<Record<string, string>> = {
  AD: 'Europe/Andorra', AE: 'Asia/Dubai', AF: 'Asia/Kabul', AG: 'America/Antigua', AI: 'America/Anguilla',
  AL: 'Europe/Tirane', AM: 'Asia/Yerevan', AO: 'Africa/Luanda', AS: 'Pacific/Pago_Pago', AT: 'Europe/Vienna',
  AW: 'America/Aruba', AX: 'Europe/Mariehamn', AZ: 'Asia/Baku', BA: 'Europe/Sarajevo', BB: 'America/Barbados',
  BD: 'Asia/Dhaka', BE: 'Europe/Brussels', BF: 'Africa/Ouagadougou', BG: 'Europe/Sofia', BH: 'Asia/Bahrain',
  BI: 'Africa/Bujumbura', BJ: 'Africa/Porto-Novo', BL: 'America/St_Barthelemy', BM: 'Atlantic/Bermuda',
  BN: 'Asia/Brunei', BO: 'America/La_Paz', BQ: 'America/Kralendijk', BS: 'America/Nassau', BT: 'Asia/Thimphu',
  BW: 'Africa/Gaborone', BY: 'Europe/Minsk', BZ: 'America/Belize', CC: 'Indian/Cocos', CF: 'Africa/Bangui',
  CG: 'Africa/Brazzaville', CH: 'Europe/Zurich', CI: 'Africa/Abidjan', CK: 'Pacific/Rarotonga',
  CM: 'Africa/Douala', CO: 'America/Bogota', CR: 'America/Costa_Rica', CU: 'America/Havana',
  CV: 'Atlantic/Cape_Verde', CW: 'America/Curacao', CX: 'Indian/Christmas', CZ: 'Europe/Prague',
 DE: 'Europe/Berlin', DJ: 'Africa/Djibouti', DK: 'Europe/Copenhagen', DM: 'America/Dominica', DO: 'America/Santo_Domingo',
  DZ: 'Africa/Algiers', EE: 'Europe/Tallinn', EG: 'Africa/Cairo', EH: 'Africa/El_Aaiun', ER: 'Africa/Asmara',
  ET: 'Africa/Addis_Ababa', FI: 'Europe/Helsinki', FJ: 'Pacific/Fiji', FK: 'Atlantic/Stanley',
  FO: 'Atlantic/Faroe', FR: 'Europe/Paris', GA: 'Africa/Libreville', GB: 'Europe/London',
  GD: 'America/Grenada', GE: 'Asia/Tbilisi', GF: 'America/Cayenne', GG: 'Europe/Guernsey', GH: 'Africa/Accra',
  GI: 'Europe/Gibraltar', GM: 'Africa/Banjul', GN: 'Africa/Conakry', GP: 'America/Guadeloupe',
  GQ: 'Africa/Malabo', GR: 'Europe/Athens', GS: 'Atlantic/South_Georgia', GT: 'America/Guatemala',
  GU: 'Pacific/Guam', GW: 'Africa/Bissau', GY: 'America/Guyana', HK: 'Asia/Hong_Kong',
  HN: 'America/Tegucigalpa', HR: 'Europe/Zagreb', HT: 'America/Port-au-Prince', HU: 'Europe/Budapest',
  IE: 'Europe/Dublin', IL: 'Asia/Jerusalem', IM: 'Europe/Isle_of_Man', IN: 'Asia/Kolkata',
  IO: 'Indian/Chagos', IQ: 'Asia/Baghdad', IR: 'Asia/Tehran', IS: 'Atlantic/Reykjavik', IT: 'Europe/Rome',
  JE: 'Europe/Jersey', JM: 'America/Jamaica', JO: 'Asia/Amman', JP: 'Asia/Tokyo', KE: 'Africa/Nairobi',
  KG: 'Asia/Bishkek', KH: 'Asia/Phnom_Penh', KM: 'Indian/Comoro', KN: 'America/St_Kitts',
  KP: 'Asia/Pyongyang', KR: 'Asia/Seoul', KW: 'Asia/Kuwait', KY: 'America/Cayman', LA: 'Asia/Vientiane',
  LB: 'Asia/Beirut', LC: 'America/St_Lucia', LI: 'Europe/Vaduz', LK: 'Asia/Colombo', LR: 'Africa/Monrovia',
  LS: 'Africa/Maseru', LT: 'Europe/Vilnius', LU: 'Europe/Luxembourg', LV: 'Europe/Riga', LY: 'Africa/Tripoli',
  MA: 'Africa/Casablanca', MC: 'Europe/Monaco', MD: 'Europe/Chisinau', ME: 'Europe/Podgorica',
  MF: 'America/Marigot', MG: 'Indian/Antananarivo', MK: 'Europe/Skopje', ML: 'Africa/Bamako',
  MM: 'Asia/Yangon', MO: 'Asia/Macau', MP: 'Pacific/Saipan', MQ: 'America/Martinique',
  MR: 'Africa/Nouakchott', MS: 'America/Montserrat', MT: 'Europe/Malta', MU: 'Indian/Mauritius',
  MV: 'Indian/Maldives', MW: 'Africa/Blantyre', MZ: 'Africa/Maputo', NA: 'Africa/Windhoek',
  NC: 'Pacific/Noumea', NE: 'Africa/Niamey', NF: 'Pacific/Norfolk', NG: 'Africa/Lagos', NI: 'America/Managua',
  NL: 'Europe/Amsterdam', NO: 'Europe/Oslo', NP: 'Asia/Kathmandu', NR: 'Pacific/Nauru', NU: 'Pacific/Niue',
  OM: 'Asia/Muscat', PA: 'America/Panama', PE: 'America/Lima', PH: 'Asia/Manila', PK: 'Asia/Karachi',
  PL: 'Europe/Warsaw', PM: 'America/Miquelon', PN: 'Pacific/Pitcairn', PR: 'America/Puerto_Rico',
  PW: 'Pacific/Palau', PY: 'America/Asuncion', QA: 'Asia/Qatar', RE: 'Indian/Reunion', RO: 'Europe/Bucharest',
  RS: 'Europe/Belgrade', RW: 'Africa/Kigali', SA: 'Asia/Riyadh', SB: 'Pacific/Guadalcanal', SC: 'Indian/Mahe',
  SD: 'Africa/Khartoum', SE: 'Europe/Stockholm', SG: 'Asia/Singapore', SH: 'Atlantic/St_Helena',
  SI: 'Europe/Ljubljana', SJ: 'Arctic/Longyearbyen', SK: 'Europe/Bratislava', SL: 'Africa/Freetown',
  SM: 'Europe/San_Marino', SN: 'Africa/Dakar', SO: 'Africa/Mogadishu', SR: 'America/Paramaribo',
  SS: 'Africa/Juba', ST: 'Africa/Sao_Tome', SV: 'America/El_Salvador', SX: 'America/Lower_Princes',
  SY: 'Asia/Damascus', SZ: 'Africa/Mbabane', TC: 'America/Grand_Turk', TD: 'Africa/Ndjamena',
  TF: 'Indian/Kerguelen', TG: 'Africa/Lome', TH: 'Asia/Bangkok', TJ: 'Asia/Dushanbe', TK: 'Pacific/Fakaofo',
  TL: 'Asia/Dili', TM: 'Asia/Ashgabat', TN: 'Africa/Tunis', TO: 'Pacific/Tongatapu', TR: 'Europe/Istanbul',
  TT: 'America/Port_of_Spain', TV: 'Pacific/Funafuti', TW: 'Asia/Taipei', TZ: 'Africa/Dar_es_Salaam',
  UG: 'Africa/Kampala', UY: 'America/Montevideo', VA: 'Europe/Vatican', VC: 'America/St_Vincent',
  VE: 'America/Caracas', VG: 'America/Tortola', VI: 'America/St_Thomas', VN: 'Asia/Ho_Chi_Minh',
  VU: 'Pacific/Efate', WF: 'Pacific/Wallis', WS: 'Pacific/Apia', YE: 'Asia/Aden', YT: 'Indian/Mayotte',
  ZA: 'Africa/Johannesburg', ZM: 'Africa/Lusaka', ZW: 'Africa/Harare',
} // prettier-ignore

/**
 * Regions (ISO 3166-2) that lie in one zone as a whole, of countries with several; from memory. Those
 * that are cut by a border of zones (Texas, Florida, Tennessee, …) are left out.
 */
const REGION_ZONES: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  US: zones({
    'America/New_York': 'CT DC DE GA MA MD ME NC NH NJ NY OH PA RI SC VA VT WV',
    'America/Chicago': 'AL AR IA IL LA MN MO MS OK WI',
    'America/Denver': 'CO MT NM UT WY',
    'America/Phoenix': 'AZ',
    'America/Los_Angeles': 'CA NV WA',
    'Pacific/Honolulu': 'HI',
  }),
  CA: zones({ 'America/Halifax': 'NS PE', 'America/Toronto': 'QC', 'America/St_Johns': 'NL' }),
  AU: zones({
    'Australia/Sydney': 'ACT',
    'Australia/Melbourne': 'VIC',
    'Australia/Brisbane': 'QLD',
    'Australia/Hobart': 'TAS',
    'Australia/Adelaide': 'SA',
    'Australia/Darwin': 'NT',
    'Australia/Perth': 'WA',
  }),
  BR: zones({ 'America/Sao_Paulo': 'DF ES GO MG PR RJ RS SC SP', 'America/Bahia': 'BA' }),
  PT: zones({ 'Atlantic/Azores': '20', 'Atlantic/Madeira': '30' }),
  ES: zones({ 'Europe/Madrid': 'AN AR AS CB CL CM CT EX GA IB MC MD NC PV RI VC' }),
}

function zones(byZone: Readonly<Record<string, string>>): Record<string, string> {
  return Object.fromEntries(
    Object.entries(byZone).flatMap(([zone, regions]) =>
      regions.split(' ').map((region) => [region, zone]),
    ),
  )
}

/** The zone of a country, or of a region of it, where there is only one; null where it is not sure. */
export function zoneOfPlace(country: string, region: string | null): string | null {
  const ofRegion = region === null ? undefined : REGION_ZONES[country]?.[region]
  return ofRegion ?? COUNTRY_ZONES[country] ?? null
}
