import { useState } from 'react'
import Button from 'react-bootstrap/Button'
import Form from 'react-bootstrap/Form'

/** An address to be copied. */
export function CopyLine({ label, text }: { readonly label: string; readonly text: string }) {
  const [copied, setCopied] = useState('')
  return (
    <div className="copy-link-line">
      <Form.Control readOnly size="sm" aria-label={label} value={text} onFocus={({ target }) => target.select()} />
      <Button
        size="sm"
        variant="outline-dark"
        onClick={() =>
          void navigator.clipboard.writeText(text).then(
            () => setCopied(text),
            () => undefined,
          )
        }
      >
        {copied === text ? 'Copied' : 'Copy'}
      </Button>
    </div>
  )
}
