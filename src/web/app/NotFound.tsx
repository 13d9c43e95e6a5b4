import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { Empty } from '../ui/states.tsx'

export function NotFound(): ReactNode {
  return (
    <Empty title="There is no such page.">
      <Link className="link" to="/workflows">
        To the workflows
      </Link>
    </Empty>
  )
}
