/** The package's own types name another module. */
declare module '@mixmark-io/domino' {
  const domino: { createDocument: (html: string) => Document }
  export default domino
}
