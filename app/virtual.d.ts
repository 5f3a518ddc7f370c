/** The components' styles, worked out when we build (scripts/component-styles.ts). */
declare module 'virtual:components.css'
