import type { Viewer } from '@gavrin/core'
import { Body, Controller, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { Type } from 'class-transformer'
import { ArrayMaxSize, IsArray, IsBoolean, IsString, IsUUID, MaxLength, ValidateNested } from 'class-validator'
import { Asking } from '../access/viewer.js'
import { LIKENESS_LIMITS, LikenessService } from './likeness.service.js'

class BesideDto {
  @ApiProperty() @IsString() @MaxLength(200, { message: 'A name has up to 200 characters.' }) name: string
  @ApiProperty()
  @IsString()
  @MaxLength(LIKENESS_LIMITS.letters, { message: 'A text has up to 100,000 characters: put a part of it here.' })
  text: string
}

class LikenessDto {
  /** Against one's other classes, and earlier years, too. */
  @ApiProperty() @IsBoolean() withOthers: boolean
  /** Texts to compare with; they are not kept. */
  @ApiProperty({ type: [BesideDto] })
  @IsArray()
  @ArrayMaxSize(LIKENESS_LIMITS.beside, { message: `Up to ${LIKENESS_LIMITS.beside} texts are put beside the copies.` })
  @ValidateNested({ each: true })
  @Type(() => BesideDto)
  beside: BesideDto[]
}

class WordsDto {
  @ApiProperty() @IsUUID() copyId: string
  @ApiProperty() @IsString() @MaxLength(200) space: string
  @ApiProperty() @IsString() @MaxLength(LIKENESS_LIMITS.letters) words: string
}

class CameInDto {
  @ApiProperty({ type: [WordsDto] })
  @IsArray()
  @ArrayMaxSize(LIKENESS_LIMITS.runs)
  @ValidateNested({ each: true })
  @Type(() => WordsDto)
  runs: WordsDto[]
}

@ApiTags('likeness')
@Controller('handouts')
export class LikenessController {
  constructor(private readonly likeness: LikenessService) {}

  /** Copies that share more than the print, and more than the class has in common. By POST: the texts beside them are long. */
  @Post(':handoutId/likeness')
  @HttpCode(200)
  compare(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string, @Body() wished: LikenessDto) {
    return this.likeness.likeness(viewer, handoutId, wished)
  }

  /** How words came into answers, in the order asked. */
  @Post(':handoutId/likeness/came')
  @HttpCode(200)
  cameIn(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string, @Body() { runs }: CameInDto) {
    return this.likeness.howTheyCame(viewer, handoutId, runs)
  }
}
