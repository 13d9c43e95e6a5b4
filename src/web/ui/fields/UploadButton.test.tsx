import { aProblem } from '../../testing/screen.tsx'
import { screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { expect, test, vi } from 'vitest'
import { show } from '../../testing/screen.tsx'
import { ApiError } from '../data/api.ts'
import { UploadButton } from './UploadButton.tsx'

const file = new File(['%PDF-1.7'], 'Care guide.pdf', { type: 'application/pdf' })

function button(send: (taken: File) => Promise<string>) {
  const onStored = vi.fn<(stored: string) => void>()
  show(
    <UploadButton
      label="Take a file"
      accept=".pdf"
      className=""
      send={send}
      onStored={onStored}
      cameTooLate="Too late."
    />,
  )
  return onStored
}

test('what was taken is sent and given on; meanwhile nothing else can be taken', async () => {
  let answer: (stored: string) => void = () => {}
  const onStored = button(() => new Promise((resolve) => (answer = resolve)))
  const input = screen.getByLabelText<HTMLInputElement>('Take a file')
  await userEvent.upload(input, file)
  expect(screen.getByRole('status').textContent).toBe('Sending …')
  expect(input.disabled).toBe(true)
  answer('stored')
  await waitFor(() => expect(onStored).toHaveBeenCalledWith('stored'))
  expect(input.disabled).toBe(false)
})

test('what the server refuses is said, and another can be taken', async () => {
  const refused = new ApiError(400, aProblem(400, 'It is a program.'))
  const onStored = button(() => Promise.reject(refused))
  await userEvent.upload(screen.getByLabelText('Take a file'), file)
  expect(await screen.findByText('It is a program.')).toBeDefined()
  expect(onStored).not.toHaveBeenCalled()
  expect(screen.getByRole('status').textContent).toBe('Take a file')
})
