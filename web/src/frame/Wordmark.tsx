export function Wordmark() {
  return (
    <>
      <svg width="20" height="26" viewBox="0 0 20 26" aria-hidden="true">
        <path className="word-sheet" d="M2 2h11l5 5v17H2z" strokeWidth="2" />
        <path className="word-water" d="M2 15c3-2 5-2 8 0s5 2 8 0v9H2z" />
        <path className="word-fold" d="M13 2v5h5" strokeWidth="1.6" />
      </svg>
      Gavrin
    </>
  )
}
