import type { ReactNode } from 'react'
import type { FollowedLink } from '../../../../core/messages/ownLinks.ts'
import { Rate } from '../../../ui/figures/Rate.tsx'

interface Props {
  links: readonly FollowedLink[]
  delivered: number
}

/** The same as the marks on the message, to read and to copy. */
export function Links({ links, delivered }: Props): ReactNode {
  return (
    <section aria-label="Links followed" className="text-xs">
      <h3 className="mb-1 font-medium">Links followed</h3>
      {links.length === 0 ? (
        <p className="text-secondary">Nobody has followed one.</p>
      ) : (
        <table className="w-full">
          <tbody>
            {links.map(({ url, people }) => (
              <tr key={url}>
                <th
                  scope="row"
                  className="max-w-0 truncate py-0.5 pr-3 text-left font-normal"
                  title={url}
                >
                  {url.replace(/^https?:\/\//, '')}
                </th>
                <td className="w-28 text-right font-mono">
                  <Rate did={people} of={Math.max(people, delivered)} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}
