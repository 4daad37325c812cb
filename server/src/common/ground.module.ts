import { type DynamicModule, Module, type Provider } from '@nestjs/common'

/** What every module may ask for without saying so. */
@Module({})
export class GroundModule {
  static with(providers: (Provider & { readonly provide: unknown })[]): DynamicModule {
    return { module: GroundModule, global: true, providers, exports: providers.map(({ provide }) => provide as symbol) }
  }
}
