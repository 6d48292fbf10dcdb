declare module 'email-providers/all.json' {
  /** Domains of mail providers. */
  const domains: string[];
  export default domains;
}
