import { configure } from '@testing-library/react'

// Machines are shared: what takes a moment may take many.
configure({ asyncUtilTimeout: 90_000 })
