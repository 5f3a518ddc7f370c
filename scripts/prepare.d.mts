export const root: string
export function giveUp(sentence: string): never
export function packages(): Promise<void>
export function run(script: string): Promise<unknown>
