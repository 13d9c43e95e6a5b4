import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Minus, Plus } from 'lucide-react'
import { useRef, useState, type ReactNode } from 'react'
import { Controller, type UseFormReturn } from 'react-hook-form'
import { toast } from 'sonner'
import { z } from 'zod'
import { placeOrderBody, type CounterProduct, type PlaceOrderBody } from '../../contract/counter.ts'
import { sendJson } from '../ui/data/api.ts'
import { instantAt } from '../../core/shared/localTime.ts'
import { ClockInput } from '../ui/fields/ClockInput.tsx'
import { Field } from '../ui/fields/fields.tsx'
import { FormField, useZodForm } from '../ui/fields/form.tsx'
import { PageHeading } from '../ui/PageHeading.tsx'
import { Amount, useShop } from '../ui/data/shop.tsx'
import { Empty, ProblemList } from '../ui/states.tsx'
import { useFocusNear } from '../ui/hooks/useFocusNear.ts'
import { useProducts } from '../ui/data/useProducts.ts'
import { ChooseCustomer, type Customer } from './ChooseCustomer.tsx'
import { OtherHappenings } from './OtherHappenings.tsx'

/** What is said with an order: a coupon's code, and when a class is booked for, by the shop's clocks. */
const terms = z.object({ code: placeOrderBody.shape.code, date: z.string(), time: z.string() })
/** A class begins in the morning unless something else is said. */
const NO_TERMS = { code: '', date: '', time: '10:00' }

type Basket = ReadonlyMap<string, number>

/** Someone, some products, and an order is placed. */
export function PlaceOrder(): ReactNode {
  const [customer, setCustomer] = useState<Customer | null>(null)
  const [basket, setBasket] = useState<Basket>(new Map())
  const form = useZodForm(terms, NO_TERMS)
  const products = useProducts()
  const { zone } = useShop()
  const queries = useQueryClient()
  const place = useMutation({
    mutationFn: (body: PlaceOrderBody) =>
      sendJson('POST', '/api/counter/orders', z.object({ number: z.string() }), body),
    onSuccess: async ({ number }) => {
      toast.success(`Order ${number} is placed.`)
      setBasket(new Map())
      form.reset()
      await queries.invalidateQueries({
        predicate: ({ queryKey }) => ['counter', 'clock'].includes(String(queryKey[0])),
      })
    },
  })
  const lines = [...basket].map(([productId, quantity]) => ({ productId, quantity }))
  const total = products.reduce(
    (sum, { id, priceMinor }) => sum + priceMinor * (basket.get(id) ?? 0),
    0,
  )
  const ready = customer !== null && lines.length > 0
  const placeIt = form.handleSubmit(({ code, ...when }) => {
    if (customer) place.mutate({ customer, lines, code, ...booked(when, zone) })
  })
  return (
    <section aria-label="New order" className="flex flex-col gap-3">
      <PageHeading title="Counter" />
      <ChooseCustomer value={customer} onChange={setCustomer} />
      <ProductPicker products={products} basket={basket} onChange={setBasket} />
      <Terms form={form} />
      {place.error && (
        <div role="alert" className="text-accent">
          {place.error.message}
          <ProblemList error={place.error} />
        </div>
      )}
      <button
        type="button"
        className="btn btn-primary"
        disabled={!ready || place.isPending}
        onClick={() => void placeIt()}
      >
        Place the order
        {total > 0 && <Amount minor={total} currency={products[0]?.currency ?? 'EUR'} />}
      </button>
      {!ready && (
        <p className="text-xs text-secondary">Choose a customer and at least one product.</p>
      )}
      <OtherHappenings customer={customer} lines={lines} onDone={() => setBasket(new Map())} />
    </section>
  )
}

function Terms({
  form,
}: {
  form: UseFormReturn<z.input<typeof terms>, unknown, z.output<typeof terms>>
}): ReactNode {
  return (
    <div className="grid gap-2 sm:grid-cols-[2fr_3fr]">
      <FormField
        small
        label="Coupon code, if any"
        field={form.register('code')}
        problem={form.formState.errors.code}
      />
      <Field label="Booked for, of a class">
        {(id) => (
          <span className="flex gap-1">
            <input
              id={id}
              type="date"
              className="input input-sm min-w-0 flex-1"
              {...form.register('date')}
            />
            <Controller
              control={form.control}
              name="time"
              render={({ field: { value, onChange } }) => (
                <ClockInput
                  label="Time it is booked for"
                  narrow
                  value={value}
                  onChange={onChange}
                />
              )}
            />
          </span>
        )}
      </Field>
    </div>
  )
}

/** When a class begins that is booked, by the shop's clocks; nothing for what is taken along. */
function booked(
  { date, time }: { date: string; time: string },
  zone: string,
): { bookedFor?: number } {
  return date === '' ? {} : { bookedFor: instantAt(date, time, zone) }
}

interface PickerProps {
  products: CounterProduct[]
  basket: Basket
  onChange: (basket: Basket) => void
}

function ProductPicker({ products, basket, onChange }: PickerProps): ReactNode {
  const [search, setSearch] = useState('')
  const wanted = search.trim().toLowerCase()
  const found = products.filter(
    ({ id, title, category }) =>
      basket.has(id) || `${title} ${category ?? ''}`.toLowerCase().includes(wanted),
  )
  const chosenFirst = found.toSorted((a, b) => Number(basket.has(b.id)) - Number(basket.has(a.id)))
  const setQuantity = (id: string, quantity: number) => {
    const next = new Map(basket)
    if (quantity > 0) next.set(id, quantity)
    else next.delete(id)
    onChange(next)
  }
  return (
    <div className="panel">
      <div className="border-b border-base-300 p-2">
        <input
          type="search"
          maxLength={100}
          className="input input-sm w-full"
          placeholder="Search products"
          aria-label="Search products"
          value={search}
          onChange={(event) => setSearch(event.target.value)}
        />
      </div>
      <ul className="h-56 overflow-y-auto">
        {chosenFirst.length === 0 && (
          <li>
            <Empty title="No such product." />
          </li>
        )}
        {chosenFirst.map((product) => (
          <li
            key={product.id}
            className="flex items-center gap-2 border-b border-base-300/50 px-3 py-1.5"
          >
            <span className="min-w-0 flex-1">
              <span className="block truncate">{product.title}</span>
              <span className="text-xs text-secondary">{product.category}</span>
            </span>
            <Amount minor={product.priceMinor} currency={product.currency} />
            <Quantity
              title={product.title}
              quantity={basket.get(product.id) ?? 0}
              onChange={(quantity) => setQuantity(product.id, quantity)}
            />
          </li>
        ))}
      </ul>
    </div>
  )
}

function Quantity({
  title,
  quantity,
  onChange,
}: {
  title: string
  quantity: number
  onChange: (quantity: number) => void
}): ReactNode {
  const place = useRef<HTMLSpanElement>(null)
  const onPress = useFocusNear(place)
  return (
    <span ref={place} onClickCapture={onPress} className="flex items-center">
      {quantity > 0 && (
        <>
          <button
            type="button"
            className="btn btn-ghost btn-xs btn-square"
            aria-label={`One less ${title}`}
            onClick={() => onChange(quantity - 1)}
          >
            <Minus size={12} />
          </button>
          <span className="w-5 text-center font-mono text-xs">{quantity}</span>
        </>
      )}
      <button
        type="button"
        className="btn btn-xs btn-square"
        aria-label={`Add ${title}`}
        onClick={() => onChange(quantity + 1)}
      >
        <Plus size={12} />
      </button>
    </span>
  )
}
