import { act, fireEvent, screen, within } from '@testing-library/react'

/** Types digits into a field of parts ("Day", "Time"), as keys do: each part that is full leads to the next. */
export function typeInto(label: string, digits: string, at = 0): void {
  const group = screen.getAllByRole('group', { name: label })[at]!
  act(() => within(group).getAllByRole('spinbutton')[0]!.focus())
  for (const data of digits)
    fireEvent(
      document.activeElement!,
      new InputEvent('beforeinput', { inputType: 'insertText', data, bubbles: true, cancelable: true }),
    )
}
