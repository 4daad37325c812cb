import { TestEnvironment as JsdomEnvironment } from 'jest-environment-jsdom'

/** A browser's page, with what jsdom leaves out and Node has. */
export default class PageEnvironment extends JsdomEnvironment {
  async setup() {
    await super.setup()
    Object.assign(this.global, { TextEncoder, TextDecoder, structuredClone, fetch, Response, Uint8Array, ArrayBuffer })
  }
}
