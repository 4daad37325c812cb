import type { Settings } from '../../dist/common/settings.js'

export function settingsFor(databaseUrl: string, demo?: boolean): Settings
