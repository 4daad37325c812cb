import { type GroupWish, makeGroups } from '@gavrin/core'

self.onmessage = ({ data }: MessageEvent<GroupWish>) => self.postMessage(makeGroups(data))
