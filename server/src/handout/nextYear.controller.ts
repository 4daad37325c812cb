import type { Viewer } from '@gavrin/core'
import { Body, Controller, Param, ParseUUIDPipe, Post } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { IsBoolean } from 'class-validator'
import { Asking } from '../access/viewer.js'
import { Ids, OrNull } from '../common/dto.js'
import { NameDto } from '../roster/class.controller.js'
import { NextYearService } from './nextYear.service.js'

class CarryDto extends NameDto {
  @ApiProperty() @IsBoolean() staff: boolean
  @ApiProperty() @IsBoolean() units: boolean
  @ApiProperty() @IsBoolean() columns: boolean
  @ApiProperty() @IsBoolean() handouts: boolean
  @ApiProperty() @IsBoolean() shelf: boolean
  /** Who comes along; null: all who are in the class now. */
  @ApiProperty({ type: [String], nullable: true }) @OrNull() @Ids() students: string[] | null
  @ApiProperty() @IsBoolean() cells: boolean
  @ApiProperty() @IsBoolean() groups: boolean
}

@ApiTags('class')
@Controller('classes')
export class NextYearController {
  constructor(private readonly nextYear: NextYearService) {}

  /** Makes the class of another year out of this one. */
  @Post(':classId/carry')
  carry(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string, @Body() input: CarryDto) {
    return this.nextYear.carry(viewer, classId, input)
  }
}
