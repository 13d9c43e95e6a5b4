import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { z } from 'zod'
import { EXPORT_WORDS, exportKind } from '../../contract/exports.ts'
import { getJson } from '../ui/data/api.ts'

/** Everything the shop has here, as files to keep or to take elsewhere. */
export function TakeOut(): ReactNode {
  return (
    <section className="mt-6" aria-labelledby="take-out">
      <h2 id="take-out" className="mb-1 font-medium">
        Take out
      </h2>
      <p className="mb-2 text-secondary">
        All of it, whenever you like. Files of customers, orders, products, subscriptions and
        consents can be brought in elsewhere as they are. Some people only are taken out where they
        are found, under People.
      </p>
      <table className="table panel table-sm">
        <tbody>
          {exportKind.options.map((kind) => (
            <tr key={kind}>
              <th scope="row" className="font-medium">
                {EXPORT_WORDS[kind].name}
              </th>
              <td className="text-secondary">{EXPORT_WORDS[kind].about}</td>
              <td className="text-right whitespace-nowrap">
                <FileLink kind={kind} format="csv" words="CSV" />
                <FileLink kind={kind} format="jsonl" words="JSON Lines" />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Calendar />
    </section>
  )
}

/** The address at which a calendar program finds what is to come. */
function Calendar(): ReactNode {
  const { data } = useQuery({
    queryKey: ['calendar'],
    queryFn: () => getJson('/api/calendar', z.object({ address: z.string() })),
  })
  if (!data) return null
  return (
    <label className="mt-3 block">
      <span className="field-label">
        A calendar of what is to come: messages, people who are due, renewals. Whoever has the
        address can read it; it names nobody.
      </span>
      <input
        readOnly
        className="input input-sm w-full font-mono text-xs"
        value={data.address}
        onFocus={(event) => event.target.select()}
      />
    </label>
  )
}

const FileLink = ({ kind, format, words }: { kind: keyof typeof EXPORT_WORDS; format: string; words: string }): ReactNode => (
  <a className="btn ml-1 btn-ghost btn-sm" href={`/api/exports/${kind}?format=${format}`} aria-label={`${EXPORT_WORDS[kind].name} as ${words}`} download>
    {words}
  </a>
) // prettier-ignore
