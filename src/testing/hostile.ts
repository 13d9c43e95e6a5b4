/** Values that template engines of various kinds would act on, from common practice in security testing. */
export const HOSTILE = [
  '{{7*7}}', '${7*7}', '<%= 7*7 %>', '#{7*7}', '*{7*7}', '[[${7*7}]]', '{% for i in (1..9999999) %}x{% endfor %}',
  '{{customer.email}}', "{{constructor.constructor('return process.env')()}}", '{{__proto__.polluted}}', '$&', "$'",
  '%0d%0aBcc:', '<img src=x onerror=alert(1)>', '</script><script>alert(1)</script>', 'javascript:alert(1)', '"><svg onload=1>',
] // prettier-ignore
