import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { z } from 'zod'
import { noticesResponse } from '../../../contract/notices.ts'
import { liveWorkflow } from '../../../contract/workflows.ts'
import { addressFindings } from '../../../core/check/message/addressFindings.ts'
import { brandFindings } from '../../../core/check/shop/brandFindings.ts'
import { crossFindings } from '../../../core/check/shop/crossFindings.ts'
import type { Finding } from '../../../core/check/finding.ts'
import { exampleFindings } from '../../../core/check/exampleFindings.ts'
import { useShopFacts } from '../rehearsal/useShopFacts.ts'
import { goLiveFindings } from '../../../core/check/goLive.ts'
import { noticeFindings } from '../../../core/check/shop/noticeFindings.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { getJson } from '../../ui/data/api.ts'
import { useContentsFindings } from './useContentsFindings.ts'
import { useBrand } from '../../ui/data/useBrand.ts'
import { useAddressBook } from '../../ui/data/useAddressBook.ts'
import { useSettled } from '../../ui/hooks/useSettled.ts'

/**
 * What the go-live check finds in a draft, by itself and beside the workflows that are live, once it
 * stands still for a moment; null before it has looked for the first time.
 */
export function useFindings(id: string, definition: Definition): Finding[] | null {
  const { data } = useQuery({
    queryKey: ['live-workflows'],
    queryFn: () => getJson('/api/live-workflows', z.array(liveWorkflow)),
  })
  const { data: notices } = useQuery({
    queryKey: ['notices'],
    queryFn: () => getJson('/api/notices', noticesResponse),
  })
  const book = useAddressBook()
  const settled = useSettled(definition, null)
  // Each by itself: what comes from the server a little later is no reason to look at everything again.
  const own = useMemo(() => settled && goLiveFindings(settled), [settled])
  const ofAddresses = useMemo(
    () => (settled && book ? addressFindings(settled, book) : []),
    [settled, book],
  )
  const ofOthers = useMemo(
    () => (settled ? crossFindings(settled, id, data ?? []) : []),
    [settled, id, data],
  )
  const ofNotices = useMemo(
    () => (settled ? noticeFindings(settled, id, notices ?? []) : []),
    [settled, id, notices],
  )
  const brand = useBrand()
  const ofBrand = useMemo(
    () => (settled && brand ? brandFindings(settled, brand) : []),
    [settled, brand],
  )
  const ofContents = useContentsFindings(settled)
  const { facts } = useShopFacts()
  // What is not finished cannot be gone through.
  const canBeRun = own?.every(({ severity }) => severity !== 'error') === true
  const ofExamples = useMemo(
    () => (settled && facts && canBeRun ? exampleFindings(settled, facts) : []),
    [settled, facts, canBeRun],
  )
  return useMemo(
    () =>
      own && [
        ...own,
        ...ofAddresses,
        ...ofOthers,
        ...ofNotices,
        ...ofBrand,
        ...ofContents,
        ...ofExamples,
      ],
    [own, ofAddresses, ofOthers, ofNotices, ofBrand, ofContents, ofExamples],
  )
}
