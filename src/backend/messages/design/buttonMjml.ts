import { alignOf, classes, corners, room, type Place } from './look.ts'

const WIDTHS = { words: null, half: '50%', full: '100%' } as const

/** A link that looks like something to press. Its words and where it leads are HTML already. */
export function buttonMjml(label: string, href: string, place: Place): string {
  const { writer, colours, style, band } = place
  const isOutlined = style.button === 'outlined'
  const fill = isOutlined ? colours.band : colours.button
  const words = isOutlined ? colours.outline : colours.onButton
  const border = isOutlined ? ` border="2px solid ${colours.outline}"` : ''
  const size = { small: 14, normal: 16, large: 18, huge: 20 }[style.size ?? 'normal']
  const share = WIDTHS[style.width ?? 'words']
  const width = share === null ? '' : ` width="${share}"`
  const dark = isOutlined && band !== 'accent' && band !== 'ink' ? 'outlined' : ''
  return `<mj-button ${classes(place, 'press', dark)} href="${href}" align="${alignOf(place)}" font-family="${writer.textFont}" font-size="${size}px" font-weight="bold" background-color="${fill}" color="${words}"${border}${width} border-radius="${corners(place, 'soft')}px" inner-padding="12px 20px" ${room(place, [4, 20])}>${label}</mj-button>`
}
