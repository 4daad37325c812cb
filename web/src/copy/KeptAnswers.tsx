import type { CopyPageData } from './queries'

/** Answers to what an earlier edition asked and this one does not: nothing of them is lost. */
export function KeptAnswers({ kept }: Pick<CopyPageData, 'kept'>) {
  if (kept.length === 0) return null
  return (
    <section className="late-writings kept-answers">
      <h2>Answers from an earlier edition</h2>
      <p className="soft">The worksheet was corrected and does not ask this any more. What was written is kept.</p>
      {kept.map(({ space, label, text, edition }) => (
        <div key={space} className="late-writing">
          <p className="soft">
            <bdi>{label}</bdi> (edition {edition})
          </p>
          <p className="answer-text" dir="auto">
            {text}
          </p>
        </div>
      ))}
    </section>
  )
}
