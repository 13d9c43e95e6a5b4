/** Programs that send an event, each as it can be pasted and run with the key in YOMBLE_KEY. */
export interface CodeSample {
  language: 'curl' | 'TypeScript' | 'Python'
  code: string
}

/** How to send an event to an address, in the languages that shops' programs are written in. */
export function codeSamples(url: string, event: object): CodeSample[] {
  const json = JSON.stringify(event, null, 2)
  return [
    {
      language: 'curl',
      code: `curl --fail-with-body ${url} \\
  --header "Authorization: Bearer $YOMBLE_KEY" \\
  --header "Content-Type: application/cloudevents+json" \\
  --data @- <<'EVENT'
${json}
EVENT
`,
    },
    {
      language: 'TypeScript',
      code: `const event = ${json}

const answer = await fetch('${url}', {
  method: 'POST',
  headers: {
    authorization: \`Bearer \${process.env.YOMBLE_KEY}\`,
    'content-type': 'application/cloudevents+json',
  },
  body: JSON.stringify(event),
})
if (!answer.ok) throw new Error(await answer.text())
console.log(await answer.text())
`,
    },
    {
      language: 'Python',
      code: `import json, os, urllib.request

event = json.loads(r"""
${json}
""")

request = urllib.request.Request(
    "${url}",
    data=json.dumps(event).encode(),
    headers={
        "Authorization": "Bearer " + os.environ["YOMBLE_KEY"],
        "Content-Type": "application/cloudevents+json",
    },
)
print(urllib.request.urlopen(request).read().decode())
`,
    },
  ]
}
