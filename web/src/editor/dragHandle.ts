import { Extension } from '@tiptap/core'
import { NodeSelection, Plugin } from '@tiptap/pm/state'
import type { EditorView } from '@tiptap/pm/view'

/** A handle beside the block under the pointer: it selects the block, and drags it elsewhere. */
export const DragHandle = Extension.create({
  name: 'dragHandle',
  addProseMirrorPlugins: () => [
    new Plugin({
      view: (view) => new Handle(view),
    }),
  ],
})

class Handle {
  private readonly handle = document.createElement('button')
  private at: number | null = null

  constructor(private readonly view: EditorView) {
    const { handle } = this
    handle.type = 'button'
    handle.className = 'block-handle'
    handle.draggable = true
    handle.title = 'Drag to move this block; Alt and an arrow key moves it too'
    handle.setAttribute('aria-hidden', 'true')
    handle.tabIndex = -1
    handle.hidden = true
    // Two columns of dots, drawn by the style sheet.
    view.dom.parentElement?.append(handle)
    view.dom.parentElement?.addEventListener('mousemove', this.follow)
    view.dom.parentElement?.addEventListener('mouseleave', this.hide)
    handle.addEventListener('mousedown', this.select)
    handle.addEventListener('dragstart', this.drag)
  }

  private readonly follow = (event: MouseEvent) => {
    // Pressed it stays where it is: gone from under the pointer, it could not be dragged.
    if (!this.view.editable || event.buttons !== 0 || event.target === this.handle) return
    const box = this.view.dom.getBoundingClientRect()
    const found = this.view.posAtCoords({
      left: Math.min(box.right - 20, Math.max(box.left + 60, event.clientX)),
      top: event.clientY,
    })
    if (!found) return
    const $at = this.view.state.doc.resolve(found.inside >= 0 ? found.inside : found.pos)
    // Of a section its blocks are dragged one by one.
    const depth = $at.depth > 0 && $at.node(1).type.name === 'section' && $at.depth > 1 ? 2 : 1
    const at = $at.depth >= depth ? $at.before(depth) : $at.pos
    const dom = this.view.nodeDOM(at)
    if (!(dom instanceof HTMLElement)) return
    this.at = at
    const block = dom.getBoundingClientRect()
    const parent =
      this.handle.offsetParent?.getBoundingClientRect() ?? this.view.dom.parentElement!.getBoundingClientRect()
    this.handle.hidden = false
    this.handle.style.top = `${block.top - parent.top + 3}px`
    this.handle.style.left = `${block.left - parent.left - 22}px`
  }

  private readonly hide = () => {
    this.handle.hidden = true
  }

  private readonly select = () => {
    if (this.at === null || !this.view.state.doc.nodeAt(this.at)) return
    const { state } = this.view
    this.view.dispatch(state.tr.setSelection(NodeSelection.create(state.doc, this.at)))
  }

  private readonly drag = (event: DragEvent) => {
    this.select()
    const { selection } = this.view.state
    if (!(selection instanceof NodeSelection) || !event.dataTransfer) return
    const dom = this.view.nodeDOM(selection.from)
    if (dom instanceof HTMLElement) event.dataTransfer.setDragImage(dom, 0, 0)
    event.dataTransfer.setData('text/html', dom instanceof HTMLElement ? dom.outerHTML : '')
    event.dataTransfer.effectAllowed = 'move'
    this.view.dragging = { slice: selection.content(), move: true }
  }

  destroy() {
    this.view.dom.parentElement?.removeEventListener('mousemove', this.follow)
    this.view.dom.parentElement?.removeEventListener('mouseleave', this.hide)
    this.handle.remove()
  }
}
