export { NO_RETURNS } from '#core/points/defaults'
export type { Returns } from '#core/points/shapes/rules'
