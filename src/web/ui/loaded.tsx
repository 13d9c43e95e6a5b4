import { useEffect, useState, type ComponentType, type ReactNode } from 'react'

/**
 * A component with code of its own that comes once it is first shown, or `ahead` of that. `Waiting`
 * stands for it until then and no longer; what stands for React's own `lazy` stays for 300 ms at least.
 */
export function loaded<Props extends object>(
  load: () => Promise<ComponentType<Props>>,
  Waiting: ComponentType<Props>,
): ComponentType<Props> & { ahead: () => Promise<void> } {
  let known: ComponentType<Props> | null = null
  const ahead = async () => {
    known ??= await load()
  }
  function Loaded(props: Props): ReactNode {
    const [Shown, show] = useState(() => known)
    const [problem, setProblem] = useState<Error | null>(null)
    const isMissing = Shown === null
    useEffect(() => {
      if (isMissing) ahead().then(() => show(() => known), setProblem)
    }, [isMissing])
    // Whoever draws the page says what went wrong.
    if (problem) throw problem
    return Shown ? <Shown {...props} /> : <Waiting {...props} />
  }
  return Object.assign(Loaded, { ahead })
}

/** Does something once there is nothing else to do, where the browser can tell; returns what takes that back. */
export function whenIdle(act: () => void): () => void {
  if (!('requestIdleCallback' in window)) return () => {}
  const asked = requestIdleCallback(act)
  return () => cancelIdleCallback(asked)
}
