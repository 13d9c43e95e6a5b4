import { Copy } from 'lucide-react'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { toast } from 'sonner'

/** An address that has just been made. It is shown once: whoever knows it can send. */
export function NewAddress({ address, to }: { address: string; to?: string }): ReactNode {
  const example = `curl -X POST ${address} \\\n  -H 'content-type: application/json' \\\n  -d '{"hello": "there"}'`
  return (
    <section className="panel mb-3 border-primary p-3" aria-label="The new address">
      <p>
        Send to this address. It is shown only now; keep it where the other system is set up.
        {to !== undefined && (
          <>
            {' '}
            <Link className="link" to={to}>
              Go on to the mapping
            </Link>
          </>
        )}
      </p>
      <p className="mt-2 flex items-center gap-2">
        <code className="min-w-0 flex-1 overflow-x-auto rounded-field bg-base-200 px-2 py-1 font-mono text-xs">
          {address}
        </code>
        <button
          type="button"
          className="btn btn-sm"
          onClick={() => {
            void navigator.clipboard.writeText(address).then(() => toast.success('Copied.'))
          }}
        >
          <Copy size={14} aria-hidden="true" /> Copy
        </button>
      </p>
      <pre className="mt-2 overflow-x-auto text-xs text-secondary">{example}</pre>
    </section>
  )
}
