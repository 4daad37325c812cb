import type { Viewer } from '@gavrin/core'
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Post, Put, Query } from '@nestjs/common'
import { ApiProperty, ApiQuery, ApiTags } from '@nestjs/swagger'
import { Type } from 'class-transformer'
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsOptional,
  IsString,
  IsUUID,
  MaxLength,
  ValidateNested,
} from 'class-validator'
import { Ids, OrNull, Text } from '../common/dto.js'
import { Asking } from '../access/viewer.js'
import { LibraryService } from './library.service.js'
import { TITLE_LIMIT } from './worksheet.service.js'

class PinWorksheetsDto {
  @ApiProperty({ type: [String] }) @Ids() ids: string[]
  @ApiProperty() @IsBoolean() pinned: boolean
}

class MoveWorksheetsDto {
  @ApiProperty({ type: [String] }) @Ids() ids: string[]
  @ApiProperty({ type: String, nullable: true }) @OrNull() @IsUUID() folderId: string | null
}

class ArchiveWorksheetsDto {
  @ApiProperty({ type: [String] }) @Ids() ids: string[]
  @ApiProperty() @IsBoolean() archived: boolean
}

class TitleDto {
  @ApiProperty() @IsUUID() id: string
  @ApiProperty()
  @IsString()
  @MaxLength(TITLE_LIMIT, { message: `A title has up to ${TITLE_LIMIT} characters.` })
  title: string
}

class RenameWorksheetsDto {
  @ApiProperty({ type: [TitleDto] })
  @IsArray()
  @ArrayMaxSize(500)
  @ValidateNested({ each: true })
  @Type(() => TitleDto)
  titles: TitleDto[]
}

class FolderDto {
  @ApiProperty() @Text() name: string
  @ApiProperty({ type: String, nullable: true, required: false }) @IsOptional() @OrNull() @IsUUID() parentId?:
    | string
    | null
}

class ShareDto {
  @ApiProperty() @IsUUID() personId: string
  @ApiProperty({ enum: ['view', 'edit'] }) @IsIn(['view', 'edit']) may: 'view' | 'edit'
}

class SharesDto {
  @ApiProperty({ enum: ['none', 'view', 'edit'] }) @IsIn(['none', 'view', 'edit']) schoolMay: 'none' | 'view' | 'edit'
  @ApiProperty({ type: [ShareDto] })
  @IsArray()
  @ArrayMaxSize(500)
  @ValidateNested({ each: true })
  @Type(() => ShareDto)
  people: ShareDto[]
}

@ApiTags('worksheet')
@Controller()
export class LibraryController {
  constructor(private readonly library: LibraryService) {}

  @Get('worksheets')
  list(@Asking() viewer: Viewer) {
    return this.library.list(viewer)
  }

  @Get('worksheets/find')
  @ApiQuery({ name: 'words', required: false })
  find(@Asking() viewer: Viewer, @Query('words') words?: string) {
    return this.library.find(viewer, typeof words === 'string' ? words.slice(0, 200) : '')
  }

  @Post('worksheets/pin')
  @HttpCode(204)
  pin(@Asking() viewer: Viewer, @Body() { ids, pinned }: PinWorksheetsDto) {
    return this.library.pin(viewer, ids, pinned)
  }

  @Post('worksheets/move')
  @HttpCode(200)
  move(@Asking() viewer: Viewer, @Body() { ids, folderId }: MoveWorksheetsDto) {
    return this.library.move(viewer, ids, folderId)
  }

  @Post('worksheets/archive')
  @HttpCode(200)
  archive(@Asking() viewer: Viewer, @Body() { ids, archived }: ArchiveWorksheetsDto) {
    return this.library.archive(viewer, ids, archived)
  }

  @Post('worksheets/rename')
  @HttpCode(204)
  rename(@Asking() viewer: Viewer, @Body() { titles }: RenameWorksheetsDto) {
    return this.library.rename(viewer, titles)
  }

  @Get('worksheets/:worksheetId/shares')
  shares(@Asking() viewer: Viewer, @Param('worksheetId', ParseUUIDPipe) id: string) {
    return this.library.shares(viewer, id)
  }

  @Put('worksheets/:worksheetId/shares')
  @HttpCode(204)
  share(@Asking() viewer: Viewer, @Param('worksheetId', ParseUUIDPipe) id: string, @Body() shares: SharesDto) {
    return this.library.share(viewer, id, shares)
  }

  @Get('folders')
  folders(@Asking() viewer: Viewer) {
    return this.library.folders(viewer)
  }

  @Post('folders')
  addFolder(@Asking() viewer: Viewer, @Body() { name, parentId }: FolderDto) {
    return this.library.addFolder(viewer, name, parentId ?? null)
  }

  @Put('folders/:folderId')
  @HttpCode(204)
  keepFolder(
    @Asking() viewer: Viewer,
    @Param('folderId', ParseUUIDPipe) id: string,
    @Body() { name, parentId }: FolderDto,
  ) {
    return this.library.keepFolder(viewer, id, name, parentId ?? null)
  }

  @Delete('folders/:folderId')
  @HttpCode(204)
  removeFolder(@Asking() viewer: Viewer, @Param('folderId', ParseUUIDPipe) id: string) {
    return this.library.removeFolder(viewer, id)
  }
}
