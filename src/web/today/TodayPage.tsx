import type { ReactNode } from 'react'
import { PageHeading } from '../ui/PageHeading.tsx'
import { Holdout } from './Holdout.tsx'
import { Health } from './Health.tsx'
import { Outcomes } from './Outcomes.tsx'
import { OutOfOrder } from './OutOfOrder.tsx'
import { People } from './People.tsx'
import { Pressure } from './Pressure.tsx'
import { Revenue } from './Revenue.tsx'
import { Sending } from './Sending.tsx'
import { StillToDo } from './StillToDo.tsx'

/** How the shop as a whole is doing: what is out of order first, then what leaves, what it brings, and whom it meets. */
export function TodayPage(): ReactNode {
  return (
    <div className="mx-auto max-w-[1400px] p-4">
      <PageHeading title="Today" className="mb-3 text-xl">
        Today
      </PageHeading>
      <StillToDo />
      <OutOfOrder />
      <div className="grid gap-4 lg:grid-cols-[3fr_2fr]">
        <Sending />
        <Revenue />
        <Pressure />
        <div className="flex flex-col gap-4">
          <Health />
          <Outcomes />
        </div>
      </div>
      <Holdout />
      <People />
    </div>
  )
}
