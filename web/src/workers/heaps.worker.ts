import { type Heap, type HeapedAnswer, joinNear } from '@gavrin/core'

self.onmessage = ({ data }: MessageEvent<readonly Heap<HeapedAnswer>[]>) => self.postMessage(joinNear(data))
