import Aura from '@primeuix/themes/aura'
import { definePreset } from '@primeuix/themes'

/** The house's PrimeVue preset: a grower's ledger. The same roles as in assets/cavlin.css. */
const spruce = {
  50: '#eef5f2',
  100: '#dce9e3',
  200: '#b9d3c8',
  300: '#8fb8a9',
  400: '#6fbfa9',
  500: '#2c7a6c',
  600: '#14594f',
  700: '#104a42',
  800: '#0d3b35',
  900: '#0a2e29',
  950: '#061d1a',
}
const paper = {
  0: '#fffdf9',
  50: '#f5f2ea',
  100: '#ece7db',
  200: '#dcd6c6',
  300: '#c3bca9',
  400: '#8f948c',
  500: '#5b6766',
  600: '#4c5857',
  700: '#3c4849',
  800: '#2a3536',
  900: '#1d2a2b',
  950: '#131b1c',
}
const night = {
  0: '#ffffff',
  50: '#e8e6dd',
  100: '#d3d4cc',
  200: '#b9bfb9',
  300: '#a3aeab',
  400: '#93a09d',
  500: '#5f6d6c',
  600: '#465453',
  700: '#344040',
  800: '#263131',
  900: '#1c2525',
  950: '#151c1c',
}

const ledger = definePreset(Aura, {
  primitive: {
    red: {
      50: '#f8ebe7',
      100: '#f1d7d0',
      200: '#e5b3a8',
      300: '#e9a396',
      400: '#ec9384',
      500: '#a63d2f',
      600: '#8f3327',
      700: '#772a20',
      800: '#5f2119',
      900: '#481913',
      950: '#2c0f0b',
    },
    green: spruce,
    borderRadius: { none: '0', xs: '2px', sm: '3px', md: '4px', lg: '5px', xl: '6px' },
  },
  semantic: {
    primary: spruce,
    focusRing: { width: '2px', style: 'solid', color: '{primary.color}', offset: '2px' },
    formField: { paddingX: '0.65rem', paddingY: '0.45rem' },
    colorScheme: {
      light: {
        surface: paper,
        primary: { color: '#14594f', contrastColor: '#ffffff', hoverColor: '#0f473f', activeColor: '#0c3a34' },
        highlight: { background: '#dce9e3', focusBackground: '#cde0d7', color: '#1d2a2b', focusColor: '#1d2a2b' },
        text: { color: '#1d2a2b', hoverColor: '#1d2a2b', mutedColor: '#5b6766', hoverMutedColor: '#3c4849' },
        content: { background: '#fffdf9', hoverBackground: '#f0ece2', borderColor: '#dcd6c6', color: '#1d2a2b' },
        formField: {
          background: '#ffffff',
          borderColor: '#8f948c',
          hoverBorderColor: '#5b6766',
          color: '#1d2a2b',
          placeholderColor: '#66716f',
          shadow: 'none',
        },
      },
      dark: {
        surface: night,
        primary: { color: '#6fbfa9', contrastColor: '#0c1a17', hoverColor: '#86cdb9', activeColor: '#9bd8c7' },
        highlight: { background: '#20382f', focusBackground: '#284539', color: '#e8e6dd', focusColor: '#e8e6dd' },
        text: { color: '#e8e6dd', hoverColor: '#ffffff', mutedColor: '#a3aeab', hoverMutedColor: '#d3d4cc' },
        content: { background: '#1c2525', hoverBackground: '#263131', borderColor: '#344040', color: '#e8e6dd' },
        formField: {
          background: '#151c1c',
          borderColor: '#7f8c8a',
          hoverBorderColor: '#a3aeab',
          color: '#e8e6dd',
          placeholderColor: '#a3aeab',
          shadow: 'none',
        },
      },
    },
  },
})

export default { preset: ledger, options: { darkModeSelector: '.dark', cssLayer: { name: 'primevue', order: 'primevue, cavlin' } } }
