import { Module } from '@nestjs/common'

import { KeptModule } from '../kept/kept.module.js'
import { MailModule } from '../mail/mail.module.js'
import { DeskService } from './desk.service.js'
import { HandOutRuns } from '../handOut/handOutRuns.js'
import { GuestsController } from './guests.controller.js'
import { GuestsService } from './guests.service.js'
import { HandoutController } from './handout.controller.js'
import { HandoutService } from './handout.service.js'
import { NextYearController } from './nextYear.controller.js'
import { NextYearService } from './nextYear.service.js'
import { OwnCopiesController } from './ownCopies.controller.js'
import { OwnCopies } from './ownCopies.service.js'
import { RecipeService } from './recipe.service.js'
import { ShelfService } from './shelf.service.js'
import { WalkInService } from './walkIn.service.js'

/** Handouts: slips, proofs, hand-outs, links, the shelf, the desk. */
@Module({
  imports: [KeptModule, MailModule],
  controllers: [HandoutController, GuestsController, OwnCopiesController, NextYearController],
  providers: [
    HandoutService,
    HandOutRuns,
    WalkInService,
    GuestsService,
    OwnCopies,
    RecipeService,
    ShelfService,
    DeskService,
    NextYearService,
  ],
  exports: [HandoutService],
})
export class HandoutModule {}
