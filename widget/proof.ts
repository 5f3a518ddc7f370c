export { solveChallenge } from 'altcha-lib/v1'
