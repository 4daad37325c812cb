export * from './errors/problem.js'
export * from './account/password.js'
export * from './roster/names.js'
export * from './roster/email.js'
export { SINGLE_ROLES, type ColumnRole } from './roster/headings.js'
export * from './roster/readTable.js'
export * from './roster/understand.js'
export { type LeftOutReason, type LeftOutRow } from './roster/layout.js'
export { NAME_WAYS, type NameParting, type NameWay } from './roster/wholeNames.js'
export * from './roster/columns.js'
export * from './roster/find.js'
export * from './roster/check.js'
export * from './roster/twins.js'
export * from './roster/doubles.js'
export * from './groups/twins.js'
export * from './groups/maker.js'
export * from './groups/set.js'
export * from './groups/arrangement.js'
export * from './formats/text.js'
export * from './formats/table.js'
export * from './formats/zip.js'
export * from './formats/kind.js'
export { SHEET_NOTES, SheetRows, dateText, linkOf } from './formats/sheetRows.js'
export * from './formats/ods.js'
export * from './formats/rostering.js'
export { checkBundleModel } from './formats/rosteringModel.js'
export * from './worksheet/content.js'
export * from './worksheet/walk.js'
export * from './worksheet/words.js'
export {
  BLOCK_LIMIT,
  CONTENT_LIMIT,
  SOURCE_LIMIT,
  type CheckedDraft,
  checkContent,
  checkDraft,
} from './worksheet/check.js'
export { isLinkAddress } from './worksheet/checkRich.js'
export { SPACE_LIMITS } from './worksheet/checkSpace.js'
export { CONTENT_VERSION, keptContent } from './worksheet/upgrade.js'
export * from './worksheet/numbers.js'
export * from './worksheet/tableGrid.js'
export * from './worksheet/tableFormulas.js'
export * from './worksheet/student.js'
export * from './worksheet/sections.js'
export * from './worksheet/autoCheck.js'
export * from './worksheet/key.js'
export * from './worksheet/pictureLayout.js'
export * from './worksheet/compare.js'
export { compareWords, type WordPiece } from './worksheet/wordDiff.js'
export * from './worksheet/merge.js'
export { isSame } from './worksheet/same.js'
export * from './worksheet/blanks.js'
export * from './worksheet/backdrop.js'
export {
  COPY_NAME_LIMIT,
  COPY_NAME_BYTES,
  DEFAULT_PATTERN,
  GROUP_PATTERN,
  TITLE_PATTERN,
  column,
  wordOf,
  NAME_TOKENS,
  checkPattern,
  literal,
  nameFrom,
  resolveClashes,
  token,
  type NamePattern,
  type NameToken,
  type NameValues,
  type PatternPart,
} from './naming/pattern.js'
export * from './naming/typed.js'
export * from './common/gathered.js'
export * from './handout/statement.js'
export * from './handout/readStatement.js'
export * from './handout/note.js'
export * from './handout/facts.js'
export * from './handout/audience.js'
export { choosePeers, type PeerCopy, type PeerWish } from './handout/peers.js'
export * from './handout/carry.js'
export * from './handout/noticeValues.js'
export * from './handout/again.js'
export * from './handout/plan.js'
export * from './handout/slots.js'
export * from './handout/changes.js'
export * from './handout/differences.js'
export * from './handout/mergeSlips.js'
export * from './handout/undo.js'
export * from './handout/proof.js'
export * from './access/permission.js'
export * from './access/viewer.js'
export * from './access/school.js'
export * from './access/copy.js'
export * from './progress/journal.js'
export * from './progress/answers.js'
export * from './progress/squares.js'
export * from './live/space.js'
export * from './live/starter.js'
export * from './live/gather.js'
export * from './live/updateFormat.js'
export * from './live/inspect.js'
export * from './live/cost.js'
export * from './live/protocol.js'
export { DOCUMENT_LIMITS, type BroughtIn, type BroughtPicture } from './formats/broughtIn.js'
export * from './formats/documentKind.js'
export * from './formats/markup.js'
export * from './formats/markdown.js'
export * from './formats/plainText.js'
export * from './formats/docxPrepare.js'
export * from './formats/odt.js'
export * from './formats/odtOut.js'
export * from './formats/pdfText.js'
export * from './formats/archive.js'
export * from './formats/html.js'
export { escapeMarkup } from './formats/escape.js'
export { toGrey, type Corners, type Grey, type Point, type Rgba } from './photo/raster.js'
export { cornersOf, findCorners, isSheet } from './photo/corners.js'
export { pageSize, straighten } from './photo/straighten.js'
export { evenOut } from './photo/evenOut.js'
export { findPlaces, type Place } from './photo/places.js'
export * from './photo/recognised.js'
export * from './photo/work.js'
export * from './handout/joiners.js'
export * from './handout/accessChange.js'
export * from './time/schoolDays.js'
export * from './time/wallTime.js'
export { guessLanguage, languageOf } from './worksheet/language.js'
