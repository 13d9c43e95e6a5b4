import { useState, type ReactNode } from 'react'
import { decimalAmount, parseAmount, type Money } from '../../../core/shared/money.ts'

interface Props {
  label: string
  value: Money
  onChange: (money: Money) => void
}

/** An amount with its currency. What is typed counts as soon as it is an amount. */
export function MoneyInput({ label, value, onChange }: Props): ReactNode {
  const [typed, setTyped] = useState(() => decimalAmount(value))
  const read = parseAmount(typed, value.currency)
  const shown = read && read.amountMinor === value.amountMinor ? typed : decimalAmount(value)
  return (
    <label className="input input-sm w-full">
      <span className="font-mono text-xs text-secondary">{value.currency}</span>
      <input
        aria-label={label}
        inputMode="decimal"
        className="font-mono"
        value={read ? shown : typed}
        aria-invalid={read === null}
        onChange={(event) => {
          setTyped(event.target.value)
          const money = parseAmount(event.target.value, value.currency)
          if (money) onChange(money)
        }}
      />
    </label>
  )
}
