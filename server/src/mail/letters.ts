/** What a message says. */
export interface Letter {
  readonly subject: string
  readonly text: string
  readonly html?: string
}

/** A cover note, with the link that opens each person's own copy. */
export function coverLetter(note: {
  readonly className: string
  readonly number: number
  readonly title: string
  /** Whom it was sent to, when staff are copied. */
  readonly about: string | null
  readonly text: string
  readonly html: string
  readonly link: string
}): Letter {
  const { className, number, title, about, text, html, link } = note
  return {
    subject: line(`${className}, No. ${number}: ${title}${about ? ` (to ${about})` : ''}`),
    text: `${text}\n\n${link}\n`,
    html: `${html}<p><a href="${link}">${link}</a></p>`,
  }
}

/** Days that the links in messages work. */
export const LINK_DAYS = { invitation: 30, 'new password': 1 } as const

/** A subject is one line, whatever a name or a class has in it. */
const line = (text: string) => text.replace(/[\r\n\u2028\u2029]+/g, ' ').slice(0, 180)

export function invitationLetter({
  name,
  school,
  className,
  sender,
  link,
}: {
  readonly name: string
  readonly school: string
  readonly className: string | null
  readonly sender: string
  readonly link: string
}): Letter {
  const into = className ? ` for ${className}` : ''
  return {
    subject: line(`Your way into Gavrin at ${school}`),
    text: `Hello ${name},

${sender || 'The office'} invites you to Gavrin${into}, where worksheets are given out and worked on at ${school}.

Choose your password here:
${link}

The link works for ${LINK_DAYS.invitation} days and for you alone. If it has run out, ask for another on the sign-in page ("New password").
`,
  }
}

export function newPasswordLetter({
  name,
  school,
  link,
}: {
  readonly name: string
  readonly school: string
  readonly link: string
}): Letter {
  return {
    subject: line('A new password for Gavrin'),
    text: `Hello ${name},

somebody, probably you, asked for a new password for your account at ${school}.

Choose it here within a day:
${link}

If it was not you, there is nothing to do: your old password goes on working.
`,
  }
}
