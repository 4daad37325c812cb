import { Link } from 'react-router'

export function NotHere() {
  return (
    <div className="page-message">
      <h1>Nothing is here</h1>
      <p>
        This address leads nowhere, or to something that is not for you to see. <Link to="/">Go to your desk</Link>
      </p>
    </div>
  )
}
