import { X } from 'lucide-react'
import { useEffect, useRef, type ReactNode } from 'react'

interface Props {
  title: string
  onClose: () => void
  children: ReactNode
}

/** Something of its own over the page, until it is left: by Escape, its cross, or what is chosen in it. */
export function Sheet({ title, onClose, children }: Props): ReactNode {
  const dialog = useRef<HTMLDialogElement>(null)
  useEffect(() => {
    const { current } = dialog
    current?.showModal()
    return () => current?.close()
  }, [])
  return (
    <dialog
      ref={dialog}
      aria-label={title}
      className="m-auto h-[92vh] w-[min(1180px,96vw)] rounded-box border border-base-300 bg-base-100 p-0 text-base-content backdrop:bg-black/50"
      onClose={onClose}
      onKeyDown={(event) => event.stopPropagation()}
    >
      <div className="flex h-full flex-col">
        <header className="flex items-center border-b border-base-300 px-5 py-3">
          <h2 className="text-lg">{title}</h2>
          <button
            type="button"
            className="btn btn-ghost btn-sm btn-square ml-auto"
            aria-label="Close"
            onClick={onClose}
          >
            <X size={16} aria-hidden="true" />
          </button>
        </header>
        <div className="min-h-0 flex-1 overflow-y-auto p-5">{children}</div>
      </div>
    </dialog>
  )
}
