import type { ReactNode } from 'react'

/** One of the things to know. */
export function Part({ title, children }: { title: string; children: ReactNode }): ReactNode {
  return (
    <section className="panel flex flex-col gap-2 p-4" aria-label={title}>
      <h2 className="text-base">{title}</h2>
      {children}
    </section>
  )
}
