import type { ComponentProps } from 'react'
import type { Dropdown } from 'react-bootstrap'

type PopperConfig = NonNullable<ComponentProps<typeof Dropdown.Menu>['popperConfig']>

/** How menus are placed: over whatever scrolls, and where there is room for them, also when they grow while they are open. */
export const OVER_PAGE: PopperConfig = {
  strategy: 'fixed',
  modifiers: [
    {
      name: 'growing',
      enabled: true,
      phase: 'main',
      fn: () => undefined,
      effect: ({ state, instance }) => {
        if (!('ResizeObserver' in window)) return
        const watcher = new ResizeObserver(() => void instance.update())
        watcher.observe(state.elements.popper)
        return () => watcher.disconnect()
      },
    },
  ],
}
