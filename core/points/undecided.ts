/** What a point looks like before anybody decides. */
export const UNDECIDED = {
  sheet: '#fffdf9',
  ink: '#1d2a2b',
  accent: '#14594f',
  font: 'page' as const,
  corners: 'soft' as const,
  fields: 'boxed' as const,
  button: 'natural' as const,
  width: 'medium' as const,
  align: 'start' as const,
  backdrop: { kind: 'plain' as const },
  logo: null,
  header: null,
}
