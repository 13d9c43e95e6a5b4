import { zodResolver } from '@hookform/resolvers/zod'
import { Eye, EyeOff } from 'lucide-react'
import { useId, useState, type InputHTMLAttributes, type ReactNode } from 'react'
import {
  useForm,
  type DefaultValues,
  type FieldError,
  type UseFormRegisterReturn,
  type UseFormReturn,
} from 'react-hook-form'
import type { z } from 'zod'
import { inputProblem } from '../../../core/words/inputProblem.ts'

/** A form of plain fields, checked by the schema of what it sends: once it is sent, or as they are left. */
export function useZodForm<Schema extends z.ZodObject>(
  schema: Schema,
  defaultValues: DefaultValues<z.input<Schema>>,
  { mode = 'onSubmit' }: { mode?: 'onSubmit' | 'onTouched' } = {},
): UseFormReturn<z.input<Schema>, unknown, z.output<Schema>> {
  return useForm<z.input<Schema>, unknown, z.output<Schema>>({
    resolver: zodResolver(schema, { error: inputProblem }),
    defaultValues,
    mode,
  })
}

interface Props extends Pick<
  InputHTMLAttributes<HTMLInputElement>,
  'type' | 'placeholder' | 'autoComplete' | 'className' | 'list'
> {
  label: string
  /** What `register` made of its name. */
  field: UseFormRegisterReturn
  problem: FieldError | undefined
  /** The label is read out, and the placeholder is what one sees. */
  hideLabel?: boolean
  small?: boolean
}

/** A field of such a form, with what is wrong with it right below. */
export function FormField({
  label,
  field,
  problem,
  hideLabel,
  small = hideLabel ?? false,
  className,
  ...input
}: Props): ReactNode {
  const id = useId()
  const isSecret = input.type === 'password'
  const [isShown, show] = useState(false)
  return (
    <div className={className}>
      <label className={hideLabel ? 'sr-only' : 'field-label'} htmlFor={id}>
        {label}
      </label>
      <div className="relative">
        <input
          id={id}
          className={`input w-full ${small ? 'input-sm' : ''} ${problem ? 'input-error' : ''} ${isSecret ? 'pr-9' : ''}`}
          aria-invalid={problem ? true : undefined}
          aria-describedby={problem ? `${id}-problem` : undefined}
          {...input}
          {...(isSecret && isShown && { type: 'text' })}
          {...field}
        />
        {isSecret && <ShowTyped isShown={isShown} onChange={show} />}
      </div>
      {problem?.message && (
        <p id={`${id}-problem`} role="alert" className="mt-1 text-xs text-accent">
          {said(problem.message)}
        </p>
      )}
    </div>
  )
}

/** Has what is typed into a field for a password be seen: long ones are hard to type blindly. */
function ShowTyped({
  isShown,
  onChange,
}: {
  isShown: boolean
  onChange: (isShown: boolean) => void
}): ReactNode {
  const Icon = isShown ? EyeOff : Eye
  const words = isShown ? 'Hide what is typed' : 'Show what is typed'
  return (
    <button
      type="button"
      className="absolute inset-y-0 right-1 z-10 my-auto grid size-7 cursor-pointer place-items-center rounded-field text-secondary hover:text-base-content"
      aria-label={words}
      title={words}
      onClick={() => onChange(!isShown)}
    >
      <Icon size={16} aria-hidden="true" />
    </button>
  )
}

/** Schemas say it in words of their own, or in words that go on after a name. */
const said = (message: string): string =>
  /^\p{Ll}/u.test(message) ? `It ${message}.` : `${message}.`
