// Runs in the measured page before anything else does, and tells bench/builder.ts what it saw.
/** @type {{ inputs: number[], shown: Promise<number> | null }} */
const watched = { inputs: [], shown: null }
window.watched = watched

// Event Timing: from an input to the next frame after it, in steps of 8 ms.
new PerformanceObserver((list) => {
  for (const { name, duration } of list.getEntries()) {
    if (name === 'keydown' || name === 'pointerup') watched.inputs.push(duration)
  }
}).observe({ type: 'event', durationThreshold: 16, buffered: true })

const afterNextFrame = () =>
  new Promise((done) => requestAnimationFrame(() => setTimeout(() => done(performance.now()))))

// As soon as a frame has been made: what is put off until after it does not count.
const nextFrame = () =>
  new Promise((done) => {
    requestAnimationFrame(() => {
      void scheduler.postTask(() => done(performance.now()), { priority: 'user-blocking' })
    })
  })

watched.shown = new Promise((resolve) => {
  new MutationObserver((_changes, observer) => {
    if (!document.querySelector('[data-item]')) return
    observer.disconnect()
    void nextFrame().then(resolve)
  }).observe(document, { childList: true, subtree: true })
})

/** Milliseconds from the data of a request to the first frame with a timetable. */
watched.shownAfter = async (path) => {
  const shownAt = await watched.shown
  const request = performance.getEntriesByType('resource').find(({ name }) => name.endsWith(path))
  return shownAt - request.responseEnd
}

/** Resolves when all inputs up to now have been answered on the screen. */
watched.answered = async () => {
  await afterNextFrame()
  await afterNextFrame()
}

/** The field with a name. */
watched.field = (text) => document.querySelector(`[aria-label="${text}"]`)

/** Milliseconds for a loop that always does the same: how fast the machine is at the moment. */
watched.loop = () => {
  const from = performance.now()
  let sum = 0
  for (let index = 0; index < 4_000_000; index += 1) sum += index % 7
  return sum > 0 ? performance.now() - from : 0
}
