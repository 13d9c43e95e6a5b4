import { screen } from '@testing-library/react'
import { Component, type ReactNode } from 'react'
import { expect, test, vi } from 'vitest'
import { show } from '../testing/screen.tsx'
import { loaded } from './loaded.tsx'

const Large = ({ name }: { name: string }) => <p>large {name}</p>
const Waiting = ({ name }: { name: string }) => <p>waiting for {name}</p>

test('something stands for it until it is there', async () => {
  const Text = loaded(() => Promise.resolve(Large), Waiting)
  show(<Text name="one" />, {})
  expect(screen.getByText(/one/).textContent).toBe('waiting for one')
  expect(await screen.findByText('large one')).toBeTruthy()
})

test('what was fetched ahead is there at once, and fetched once', async () => {
  const load = vi.fn<() => Promise<typeof Large>>().mockResolvedValue(Large)
  const Text = loaded(load, Waiting)
  await Text.ahead()
  show(<Text name="two" />, {})
  expect(screen.getByText(/two/).textContent).toBe('large two')
  expect(load).toHaveBeenCalledTimes(1)
})

test('when it cannot be had, the page says so; another time it may', async () => {
  const load = vi
    .fn<() => Promise<typeof Large>>()
    .mockRejectedValueOnce(new Error('away'))
    .mockResolvedValue(Large)
  const Text = loaded(load, Waiting)
  await expect(Text.ahead()).rejects.toThrow('away')
  load.mockRejectedValueOnce(new Error('still away'))
  show(<Caught><Text name="three" /></Caught>, {}) // prettier-ignore
  await screen.findByText('still away')
  show(<Text name="three" />, {})
  await screen.findByText('large three')
})

class Caught extends Component<{ children: ReactNode }, { problem: string }> {
  override state = { problem: '' }
  static getDerivedStateFromError(error: Error) {
    return { problem: error.message }
  }
  override render(): ReactNode {
    return this.state.problem === '' ? this.props.children : <p>{this.state.problem}</p>
  }
}
