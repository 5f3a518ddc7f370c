export { default } from './[...]'
