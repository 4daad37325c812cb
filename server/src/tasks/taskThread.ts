import { parentPort, workerData } from 'node:worker_threads'
import type { Task } from './threadTasks.js'

const { module, name, args } = workerData as Task
const functions = (await import(module)) as Record<string, (...args: readonly unknown[]) => unknown>
parentPort!.postMessage(await functions[name]!(...args))
