/** The member of a union of facts that has a code. */
export type Of<Fact, Code> = Fact extends { readonly code: infer Own } ? (Code extends Own ? Fact : never) : never;

/** What is said of each code of a union of facts: where a code has no words, it does not compile. */
export type Words<Fact extends { readonly code: string }, Said, Rest extends readonly unknown[]> = {
  readonly [Code in Fact['code']]: (fact: Of<Fact, Code>, ...rest: Rest) => Said;
};

/** The words of a fact. */
export function formatByCode<Fact extends { readonly code: string }, Said, Rest extends readonly unknown[]>(
  words: Words<Fact, Said, Rest>,
  fact: Fact,
  ...rest: Rest
): Said {
  // What a code leads to takes the fact that has it, which the type of a look-up does not tell.
  return (words[fact.code as Fact['code']] as (fact: Fact, ...rest: Rest) => Said)(fact, ...rest);
}
