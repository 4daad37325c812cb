import { type ListTask, workOnList } from './listWorker'

self.onmessage = ({ data }: MessageEvent<ListTask>) => self.postMessage(workOnList(data))
