import { type Viewer, mayTeach } from '@gavrin/core'
import { Controller, Get, Query } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { IsString, MaxLength } from 'class-validator'
import { Asking } from '../access/viewer.js'
import { HandoutService } from '../handout/handout.service.js'
import { PeopleService } from '../people/people.service.js'
import { LibraryService } from '../worksheet/library.service.js'

class FindDto {
  @ApiProperty() @IsString() @MaxLength(200) typed: string
}

/** What is found from anywhere by what is typed: people, worksheets and handouts, as far as the viewer may see them. */
@ApiTags('find')
@Controller('find')
export class FindController {
  constructor(
    private readonly people: PeopleService,
    private readonly library: LibraryService,
    private readonly handouts: HandoutService,
  ) {}

  @Get()
  async find(@Asking() viewer: Viewer, @Query() { typed }: FindDto) {
    const people = await this.people.find(viewer, typed)
    if (!mayTeach(viewer).may) return { people, worksheets: [], handouts: [] }
    const [worksheets, handouts] = await Promise.all([
      this.library.findTitled(viewer, typed),
      this.handouts.find(viewer, typed),
    ])
    return { people, worksheets, handouts }
  }
}
