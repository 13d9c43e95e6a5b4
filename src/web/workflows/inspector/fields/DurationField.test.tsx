import { screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { expect, test } from 'vitest'
import { showField } from '../../../testing/screen.tsx'
import { DurationField } from './DurationField.tsx'

const field = (first: string) =>
  showField(first, (value, onChange) => (
    <DurationField label="How long" value={value} onChange={onChange} />
  ))
const amount = () => screen.getByLabelText<HTMLInputElement>('How long')
const unit = () => screen.getByLabelText<HTMLSelectElement>('How long: unit')

test.each([
  ['PT20M', '20', 'minutes'],
  ['PT24H', '24', 'hours'],
  ['P1D', '1', 'days'],
  ['P2W', '2', 'weeks'],
  ['P6M', '6', 'months'],
  ['PT0M', '0', 'minutes'],
  ['P0D', '0', 'days'],
  // Said in the smaller of units that are made of one another.
  ['PT1H30M', '90', 'minutes'],
  ['P1W3D', '10', 'days'],
  ['P1Y2M', '14', 'months'],
  ['P1Y', '12', 'months'],
])('%s is %s %s', (value, number, name) => {
  field(value)
  expect(amount().value).toBe(number)
  expect(unit().value).toBe(name)
})

test.each([
  ['P1DT2H', '1 day 2 hours'],
  ['P1M3D', '1 month 3 days'],
  ['PT30S', '30 seconds'],
])('%s, which no unit says, stays as it is until another is chosen', async (value, words) => {
  const held = field(value)
  expect(unit().selectedOptions[0]?.textContent).toBe(words)
  expect(amount().disabled).toBe(true)
  expect(held()).toBe(value)
  await userEvent.selectOptions(unit(), 'days')
  expect(held()).toBe('P1D')
  expect(amount().disabled).toBe(false)
  expect(unit().options).toHaveLength(5)
})

test('another amount and another unit', async () => {
  const held = field('P7D')
  await userEvent.clear(amount())
  await userEvent.type(amount(), '3')
  expect(held()).toBe('P3D')
  await userEvent.selectOptions(unit(), 'hours')
  expect(held()).toBe('PT3H')
})

test('less than nothing, and more than can be waited for, are brought to what can', async () => {
  const held = field('P7D')
  await userEvent.clear(amount())
  expect(held()).toBe('P0D')
  await userEvent.type(amount(), '999999')
  expect(held()).toBe('P3000D')
})
