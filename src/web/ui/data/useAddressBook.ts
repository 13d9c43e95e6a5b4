import { useQuery } from '@tanstack/react-query'
import { addressBookResponse, type AddressBookResponse } from '../../../contract/addresses.ts'
import { getJson } from './api.ts'

/** From whom messages may come, and the groups of staff; undefined until it is known. */
export function useAddressBook(): AddressBookResponse | undefined {
  const { data } = useQuery({
    queryKey: ['addresses'],
    queryFn: () => getJson('/api/addresses', addressBookResponse),
    // Somebody may confirm a sender in another window.
    staleTime: 10_000,
  })
  return data
}
