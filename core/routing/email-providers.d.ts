declare module 'email-providers' {
  /** Domains whose addresses a provider gives to everybody. */
  const domains: string[]
  export default domains
}
