import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Link, useParams } from 'react-router'
import { mayBuild } from '../../contract/roles.ts'
import { personResponse, type PersonResponse } from '../../contract/people.ts'
import { yearDayWords } from '../../core/words/quantities.ts'
import { getJson } from '../ui/data/api.ts'
import { Amount, Time, useSession, useShop } from '../ui/data/shop.tsx'
import { PageHeading } from '../ui/PageHeading.tsx'
import { Loading, Problem } from '../ui/states.tsx'
import { Consents } from './Consents.tsx'
import { Marks } from './Marks.tsx'
import { calledBy } from './PeopleTable.tsx'
import { Quiet } from './Quiet.tsx'
import { TheirRight } from './TheirRight.tsx'
import { Timeline } from './Timeline.tsx'
import { InWorkflows } from './InWorkflows.tsx'

/** Somebody: what is known of them, what happened to them, what will come, and what can be done about it. */
export function PersonPage(): ReactNode {
  const { id = '' } = useParams()
  const mayEdit = mayBuild(useSession().user.role)
  const person = useQuery({
    queryKey: ['person', id],
    queryFn: () => getJson(`/api/people/${encodeURIComponent(id)}`, personResponse),
    refetchInterval: 10_000,
  })
  if (person.error) return <Problem error={person.error} retry={() => void person.refetch()} />
  if (!person.data) return <Loading what="the person" />
  const { data } = person
  return (
    <div className="mx-auto max-w-[1300px] p-4">
      <p className="mb-1 text-xs text-secondary">
        <Link to="/people" className="hover:underline">
          People
        </Link>
      </p>
      <PageHeading title={calledBy(data)} />
      <Facts person={data} />
      <div className="mt-4 grid grid-cols-[minmax(0,380px)_minmax(0,1fr)] items-start gap-4 max-lg:grid-cols-1">
        <div className="flex flex-col gap-4">
          <Quiet person={data} mayEdit={mayEdit} />
          <Consents person={data} mayEdit={mayEdit} />
          <InWorkflows person={data} mayEdit={mayEdit} />
          <Marks person={data} mayEdit={mayEdit} />
          {mayEdit && <TheirRight person={data} />}
        </div>
        <Timeline id={data.id} />
      </div>
    </div>
  )
}

const ZONE_FROM = { person: 'their own', country: 'of their country', shop: 'the shop’s' } as const

function Facts({ person }: { person: PersonResponse }): ReactNode {
  const { currency } = useShop()
  const { email, phone, country, language, birthday, zone, orders, spentMinor, marketing } = person
  return (
    <dl className="mt-3 flex flex-wrap gap-x-8 gap-y-2 [&_dt]:text-xs [&_dt]:text-secondary">
      <Fact name="Address">{email ?? 'not known'}</Fact>
      {phone !== null && <Fact name="Phone">{phone}</Fact>}
      <Fact name="Orders">
        {orders}, <Amount minor={spentMinor} currency={currency} />
      </Fact>
      <Fact name="Last order">
        {person.lastOrderAt === null ? 'none' : <Time at={person.lastOrderAt} />}
      </Fact>
      <Fact name="Customer since">
        {person.createdAt === null ? 'not known' : <Time at={person.createdAt} />}
      </Fact>
      <Fact name="Marketing got">
        {marketing.messages}
        {marketing.lastAt !== null && (
          <>
            , last <Time at={marketing.lastAt} />
          </>
        )}
      </Fact>
      <Fact name="Country">{country ?? 'not known'}</Fact>
      <Fact name="Time zone">
        {zone.name} ({ZONE_FROM[zone.from]})
      </Fact>
      {language !== null && <Fact name="Language">{language}</Fact>}
      {birthday !== null && <Fact name="Birthday">{yearDayWords(birthday)}</Fact>}
      <Fact name="Id">
        <span className="font-mono text-xs">{person.id}</span>
      </Fact>
    </dl>
  )
}

function Fact({ name, children }: { name: string; children: ReactNode }): ReactNode {
  return (
    <div>
      <dt>{name}</dt>
      <dd>{children}</dd>
    </div>
  )
}
