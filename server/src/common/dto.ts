import { ApiProperty } from '@nestjs/swagger'
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsInt,
  IsOptional,
  IsString,
  IsUUID,
  MaxLength,
  ValidateIf,
} from 'class-validator'

/** Checked only where it is not null. */
export const OrNull = () => ValidateIf((_: unknown, value: unknown) => value !== null)

/** Ids, up to as many as one class takes. */
export const Ids = () => {
  const decorators = [IsArray(), ArrayMaxSize(5_000), IsUUID('all', { each: true })]
  return (target: object, property: string) => decorators.forEach((decorate) => decorate(target, property))
}

export class PeopleDto {
  @ApiProperty({ type: [String] }) @Ids() personIds: string[]
}

export class SomePeopleDto {
  /** Left out: everybody it can be for. */
  @ApiProperty({ type: [String], required: false }) @IsOptional() @Ids() personIds?: string[]
}

/** Something that opens and closes by hand, and within times if there are any. */
export class OpenTimesDto {
  @ApiProperty() @IsBoolean() open: boolean
  @ApiProperty({ type: Number, nullable: true }) @OrNull() @IsInt() opensAt: number | null
  @ApiProperty({ type: Number, nullable: true }) @OrNull() @IsInt() closesAt: number | null
}

/** Longer than any text that is kept: the core says in a sentence what is too long. */
export const Text = () => {
  const decorators = [IsString(), MaxLength(2_000)]
  return (target: object, property: string) => decorators.forEach((decorate) => decorate(target, property))
}
