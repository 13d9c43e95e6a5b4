import { useQuery, useQueryClient } from '@tanstack/react-query'
import { ArrowLeft } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { toast } from 'sonner'
import { mayBuild } from '../../../contract/roles.ts'
import type { Brand } from '../../../core/messages/brand.ts'
import { send } from '../../ui/data/api.ts'
import { BRAND } from '../../ui/data/useBrand.ts'
import { MailFrame } from '../../ui/mail/MailFrame.tsx'
import { usePreview } from '../../ui/mail/usePreview.ts'
import { PageHeading } from '../../ui/PageHeading.tsx'
import { useSession } from '../../ui/data/shop.tsx'
import { Loading, Problem } from '../../ui/states.tsx'
import { BrandFiles } from './BrandFiles.tsx'
import { BrandForm } from './BrandForm.tsx'
import { SAMPLE } from './sample.ts'
import { TickField } from '../../ui/fields/TickField.tsx'

/** What every designed message of the shop has in common, and how one looks with it. */
export function BrandPage(): ReactNode {
  const brand = useQuery(BRAND)
  if (brand.error) return <Problem error={brand.error} retry={() => void brand.refetch()} />
  if (!brand.data) return <Loading what="the brand" />
  return <Editor saved={brand.data} />
}

function Editor({ saved }: { saved: Brand }): ReactNode {
  const { user } = useSession()
  const queries = useQueryClient()
  const [brand, setBrand] = useState(saved)
  const [isDark, setIsDark] = useState(false)
  const { preview } = usePreview({ ...SAMPLE, brand })
  const isChanged = JSON.stringify(brand) !== JSON.stringify(saved)
  const mayEdit = mayBuild(user.role)
  const save = async () => {
    try {
      await send('PUT', '/api/brand', brand)
      queries.setQueryData(BRAND.queryKey, brand)
      toast.success('Saved. Every designed message looks like this from now on.')
    } catch (problem) {
      toast.error((problem as Error).message)
    }
  }
  return (
    <div className="flex h-full flex-col gap-3 p-4">
      <div className="flex flex-wrap items-center gap-2">
        <Link className="btn btn-ghost btn-sm" to="/settings">
          <ArrowLeft size={15} aria-hidden="true" /> Settings
        </Link>
        <PageHeading title="Brand" />
        <span className="ml-auto flex flex-wrap items-center gap-2">
          <BrandFiles brand={brand} onRead={mayEdit ? setBrand : undefined} />
          {mayEdit && (
            <>
              <button type="button" className="btn btn-sm" disabled={!isChanged} onClick={() => setBrand(saved)}>
                As it was
              </button>
              <button type="button" className="btn btn-primary btn-sm" disabled={!isChanged} onClick={() => void save()}>
                Save
              </button>
            </>
          )}
        </span>
      </div>
      <div className="flex min-h-0 flex-1 gap-3">
        <fieldset
          disabled={!mayEdit}
          className="panel w-[400px] min-w-0 shrink-0 overflow-x-hidden overflow-y-auto p-4"
          aria-label="The brand"
        >
          <BrandForm brand={brand} onChange={setBrand} />
        </fieldset>
        <section aria-label="Preview" className="panel flex min-w-0 flex-1 flex-col overflow-hidden">
          <TickField className="border-b border-base-300 px-4 py-2" checked={isDark} onChange={(checked) => setIsDark(checked)}>
            In a dark mail program
          </TickField>
          {preview?.html ? (
            <MailFrame html={preview.html} dark={isDark} images className="w-full" />
          ) : (
            <p className="p-6 text-secondary">{preview?.problem ?? 'Preparing the preview …'}</p>
          )}
        </section>
      </div>
    </div>
  )
} // prettier-ignore
