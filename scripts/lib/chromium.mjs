// What Playwright itself turns off: of several such lists Chromium hears the last alone.
const PLAYWRIGHT_OFF = [
  'AvoidUnnecessaryBeforeUnloadCheckSync',
  'DestroyProfileOnBrowserClose',
  'HttpsUpgrades',
  'HttpsFirstBalancedModeAutoEnable',
  'LensOverlay',
  'MediaRouter',
  'PaintHolding',
  'ThirdPartyStoragePartitioning',
  'AvoidCorsURLLoaderRestartOnRedirect',
  'OptimizationHints',
  'NetworkTimeServiceQuerying',
  'AimEnabled',
  'PreconnectToSearch',
]
// Each window would load two hidden pages for its address bar: half of what opening one costs.
const ADDRESS_BAR = ['WebUIOmniboxPopup', 'WebUIOmniboxAimPopup']

/** Debian's Chromium, without anything it would look for outside. */
export const CHROMIUM = {
  executablePath: '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    `--disable-features=${[...PLAYWRIGHT_OFF, ...ADDRESS_BAR].join()}`,
  ],
}
