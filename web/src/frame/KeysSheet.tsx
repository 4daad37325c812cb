import { Fragment, useLayoutEffect, useState } from 'react'
import { Modal } from 'react-bootstrap'

const KEYS: readonly { place: string; keys: readonly (readonly [keys: string, does: string])[] }[] = [
  {
    place: 'Everywhere',
    keys: [
      ['?', 'this sheet'],
      ['/', 'find people, classes, handouts, worksheets, places'],
      ['Tab, Enter', 'to the next thing, and open it'],
      ['Esc', 'close what is open'],
    ],
  },
  {
    place: 'Board',
    keys: [
      ['Enter', 'open the copy of a row beside it'],
      ['↑ ↓', 'flip to the copy before, the next copy'],
    ],
  },
  {
    place: 'Copy',
    keys: [
      ['F8', 'ask the teacher about what is marked or written in'],
      ['F9', 'comment on it'],
      ['Ctrl Enter', 'send what is written there'],
      ['Ctrl Z, Ctrl Y', 'undo, redo, of what one wrote oneself'],
    ],
  },
  {
    place: 'Marking',
    keys: [
      ['↑ ↓, u', 'the copy before, the next copy, the next unmarked'],
      ['p, Enter', 'to the first open points; take a proposal, keep points, go on'],
      ['0 to 9', 'a level of the row of the rubric that one is at'],
      ['m, f', 'the whole mark; fold the slip'],
      ['F8', 'remark on what is marked'],
      ['Ctrl Enter', 'marked, next'],
    ],
  },
  {
    place: 'History of a copy',
    keys: [
      ['← →', 'a moment earlier, later'],
      ['Home, End', 'as it was given, as it is'],
      ['Space', 'play, pause'],
    ],
  },
  {
    place: 'Roster',
    keys: [
      ['Arrows, Tab', 'to the next cell; with Shift, mark several'],
      ['Type, F2', 'write over a cell, or correct it'],
      ['Enter, Esc', 'keep a cell, leave it as it was'],
      ['Esc, then Tab', 'on to what comes after the table'],
      ['Ctrl C, Ctrl V', 'copy and paste a block of cells'],
      ['Ctrl Z, Ctrl Y', 'undo, redo'],
      ['Space, Ctrl A', 'select a student, all of them'],
    ],
  },
  {
    place: 'Groups',
    keys: [
      ['1 to 9, 0', 'move the student to that group, to none'],
      ['Ctrl Z', 'undo'],
    ],
  },
  {
    place: 'Worksheet editor',
    keys: [
      ['Alt 1 2 3 4', 'put in a line, a passage, a choice, a number'],
      ['Alt 5 7 8', 'put in a gap, a drawing, a place for files'],
      ['Alt ↑ ↓', 'move a block'],
      ['Ctrl D', 'put a block a second time'],
      ['Ctrl Shift Backspace', 'remove a block'],
      ['Ctrl Enter', 'page break'],
      ['Ctrl , and Ctrl .', 'set low, set high'],
      ['Arrows, Shift Arrows', 'move, size a box on a backdrop'],
      ['Ctrl B, Ctrl I', 'bold, italic'],
      ['Ctrl Z, Ctrl Y', 'undo, redo'],
    ],
  },
]

/** What can be done with the keyboard, shown when "?" is pressed outside a field. */
export function KeysSheet() {
  const [open, setOpen] = useState(false)
  // At once with the picture: a page counts as listened to from then on (see takeOver.tsx).
  useLayoutEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      if (event.key !== '?' || event.ctrlKey || event.metaKey || event.altKey) return
      if ((event.target as HTMLElement).closest('input, textarea, select, [contenteditable]')) return
      event.preventDefault()
      setOpen(true)
    }
    window.addEventListener('keydown', pressed)
    return () => window.removeEventListener('keydown', pressed)
  }, [])
  return (
    <Modal show={open} onHide={() => setOpen(false)} centered animation={false} aria-labelledby="keys-title">
      <Modal.Header closeButton>
        <Modal.Title id="keys-title">By keyboard</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {KEYS.map(({ place, keys }) => (
          <section key={place} className="keys">
            <h3>{place}</h3>
            <dl>
              {keys.map(([pressed, does]) => (
                <Fragment key={pressed}>
                  <dt>
                    <kbd>{pressed}</kbd>
                  </dt>
                  <dd>{does}</dd>
                </Fragment>
              ))}
            </dl>
          </section>
        ))}
      </Modal.Body>
    </Modal>
  )
}
