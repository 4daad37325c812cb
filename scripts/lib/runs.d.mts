export function runs(usual: number, long: number): number
