import { Activity, Cable, History, Images, Palette } from 'lucide-react'
import { type ComponentType, useEffect, type ReactNode } from 'react'
import { Link, useLocation } from 'react-router'
import { mayBuild, mayOwn } from '../../contract/roles.ts'
import { PageHeading } from '../ui/PageHeading.tsx'
import { useSession } from '../ui/data/shop.tsx'
import { SenderStanding } from './addresses/SenderStanding.tsx'
import { Senders } from './addresses/Senders.tsx'
import { StaffGroups } from './addresses/StaffGroups.tsx'
import { ApiKeys } from './ApiKeys.tsx'
import { Notices } from './Notices.tsx'
import { RetentionForm } from './RetentionForm.tsx'
import { Users } from './Users.tsx'
import { ShopForm } from './ShopForm.tsx'
import { ShopRules } from './ShopRules.tsx'

/** What is set once: rules for all workflows, and the keys with which other systems send events. */
export function SettingsPage(): ReactNode {
  const { role } = useSession().user
  const isMarketer = mayBuild(role)
  useScrollToHash()
  return (
    <div className="mx-auto max-w-3xl p-4">
      <PageHeading title="Settings" className="mb-3 text-xl" />
      <Door to="/settings/brand" Icon={Palette} title="Brand">
        Logo, colours, typefaces and footer of every designed message.
      </Door>
      <Door to="/settings/files" Icon={Images} title="Pictures and files">
        What was put in for messages, where it is used, and replaced everywhere.
      </Door>
      {isMarketer && (
        <Door to="/settings/connections" Icon={Cable} title="Connections">
          What other systems send in a language of their own, and the events that are made of it.
        </Door>
      )}
      <Door to="/settings/status" Icon={Activity} title="How things stand">
        What is not as it was, what waits to leave, who works on it, the last backup.
      </Door>
      {mayOwn(role) && (
        <Door to="/settings/changes" Icon={History} title="Changes">
          Who changed what and when, with what stood before.
        </Door>
      )}
      {mayOwn(role) && <ShopForm />}
      {isMarketer && (
        <>
          <Users />
          <Senders />
          <SenderStanding />
          <StaffGroups />
        </>
      )}
      <Notices mayEdit={isMarketer} />
      {isMarketer ? (
        <>
          <ShopRules />
          <RetentionForm />
          {mayOwn(role) && <ApiKeys />}
        </>
      ) : (
        <p className="panel p-4">Only marketers can change settings.</p>
      )}
    </div>
  )
}

/** Links from elsewhere lead to a part of the page: "/settings#senders". */
function useScrollToHash(): void {
  const { hash } = useLocation()
  useEffect(() => {
    // What scrolling returns is no cleanup: newer browsers return a promise.
    document.getElementById(hash.slice(1))?.scrollIntoView()
  }, [hash])
}

interface DoorProps {
  to: string
  Icon: ComponentType<{ size: number; 'aria-hidden': 'true' }>
  title: string
  children: ReactNode
}

/** The way to a page of settings of its own. */
function Door({ to, Icon, title, children }: DoorProps): ReactNode {
  return (
    <Link className="panel mb-4 flex items-center gap-3 p-4 hover:border-primary" to={to}>
      <Icon size={18} aria-hidden="true" />
      <span>
        <span className="block font-medium">{title}</span>
        <span className="text-secondary">{children}</span>
      </span>
    </Link>
  )
}
