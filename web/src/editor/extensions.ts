import { Document } from '@tiptap/extension-document'
import StarterKit from '@tiptap/starter-kit'
import { AuthorMarks } from './authorMarks'
import { AnswerSpaceNode, GapNode } from './AnswerSpaceNode'
import { BackdropNode } from './BackdropNode'
import { Behind } from './behind'
import { BlockIds } from './blockIds'
import { DragHandle } from './dragHandle'
import { OwnSteps } from './ownStep'
import { ListNumbers } from './listNumbers'
import { FormulaMarks } from './formulaMarks'
import { Colour, Sub, Sup } from './marks'
import { FormulaNode, LinkCardNode, PageBreakNode, PictureNode } from './printNodes'
import { SectionNode } from './SectionNode'
import { TABLES } from './tables'

/** All that a worksheet can be made of. */
export const WORKSHEET = [
  StarterKit.configure({
    document: false,
    heading: { levels: [1, 2, 3] },
    blockquote: false,
    codeBlock: false,
    code: false,
    horizontalRule: false,
    strike: false,
    link: { openOnClick: false, autolink: false, protocols: ['https', 'http', 'mailto'] },
  }),
  Document.extend({ content: '(block | section)+' }),
  Colour,
  Sub,
  Sup,
  ...TABLES,
  FormulaMarks,
  AnswerSpaceNode,
  GapNode,
  PictureNode,
  PageBreakNode,
  LinkCardNode,
  FormulaNode,
  BackdropNode,
  SectionNode,
  Behind,
  OwnSteps,
  DragHandle,
  AuthorMarks,
  ListNumbers,
  BlockIds,
]
