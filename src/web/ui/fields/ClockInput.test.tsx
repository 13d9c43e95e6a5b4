import { render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { expect, test, vi } from 'vitest'
import { ClockInput } from './ClockInput.tsx'

test.each([
  ['18:20', '18:20'],
  ['9', '09:00'],
  ['930', '09:30'],
  ['7.45', '07:45'],
])('%s is taken for %s', async (typed, time) => {
  const onChange = vi.fn<(time: string) => void>()
  render(<ClockInput label="At" value="09:01" onChange={onChange} />)
  await userEvent.clear(screen.getByLabelText('At'))
  await userEvent.type(screen.getByLabelText('At'), typed)
  await userEvent.tab()
  expect(onChange).toHaveBeenLastCalledWith(time)
})

test.each(['25:00', '', 'noon', '9:7'])('%s is no time and changes nothing', async (typed) => {
  const onChange = vi.fn<(time: string) => void>()
  render(<ClockInput label="At" value="09:00" onChange={onChange} />)
  await userEvent.clear(screen.getByLabelText('At'))
  if (typed !== '') await userEvent.type(screen.getByLabelText('At'), typed)
  await userEvent.tab()
  expect(onChange).not.toHaveBeenCalled()
  expect(screen.getByLabelText<HTMLInputElement>('At').value).toBe('09:00')
})
