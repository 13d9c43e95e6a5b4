/** What all charts have in common, in the tokens of the interface: they follow light and dark by themselves. */

const TICK = { fill: 'var(--color-secondary)', fontSize: 11 }
export const AXIS = { tick: TICK, stroke: 'var(--color-base-300)' } as const

/** Nothing moves: what is shown can be read at once. */
export const STILL = { isAnimationActive: false } as const

export const TIP = {
  ...STILL,
  cursor: { fill: 'var(--color-base-200)' },
  contentStyle: {
    background: 'var(--color-base-100)',
    border: '1px solid var(--color-base-300)',
    fontSize: 12,
  },
} as const
