import type { Settings } from '../../dist/settings.js'

export function settingsFor(databaseUrl: string, demo?: boolean): Settings
