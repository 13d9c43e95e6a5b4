import { Download } from 'lucide-react'
import type { ReactNode } from 'react'
import type { Definition } from '../../../core/workflow/definition.ts'

/** The workflow with its examples as a file, for colleagues and for the command line. */
export function DownloadDocument({ definition }: { definition: Definition }): ReactNode {
  const save = () => {
    const file = new Blob([`${JSON.stringify(definition, null, 2)}\n`], {
      type: 'application/json',
    })
    const url = URL.createObjectURL(file)
    const link = document.createElement('a')
    link.href = url
    link.download = `${fileNameOf(definition.name)}.json`
    link.click()
    // Once the browser has taken it up.
    setTimeout(() => URL.revokeObjectURL(url))
  }
  return (
    <button type="button" className="btn btn-ghost btn-sm" onClick={save}>
      <Download size={14} aria-hidden="true" /> As a file
    </button>
  )
}

/** "open-checkout": letters and figures of any language, the rest as dashes. */
const fileNameOf = (name: string): string =>
  name
    .toLowerCase()
    .replaceAll(/[^\p{L}\p{N}]+/gu, '-')
    .replaceAll(/^-|-$/g, '')
    .slice(0, 80) || 'workflow'
