/** The part of the package that is used; it ships no types. */
declare module 'punycode.js' {
  const punycode: { readonly toUnicode: (domain: string) => string };
  export default punycode;
}
