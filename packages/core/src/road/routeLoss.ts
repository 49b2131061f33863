/** Why a route does not get a call that is for one of its hosts. */
export type RouteLoss =
  /** It does not match. */
  | { readonly code: 'path.exact' | 'path.prefix' | 'path.pattern' | 'path.no-pattern'; readonly path: string }
  | { readonly code: 'method'; readonly method: string }
  | {
      readonly code: 'header' | 'parameter';
      readonly name: string;
      readonly value: string;
      readonly isPattern: boolean;
    }
  /** It matches, and another one comes first: by its host, its path, what else it asks for, or its place. */
  | { readonly code: 'other-listener' }
  | { readonly code: 'host.own-rules' | 'host.more-precise' }
  | { readonly code: 'path.is-exact' | 'path.longer' | 'path.pattern-first' }
  | { readonly code: 'method.named' | 'headers.more' | 'parameters.more' }
  | { readonly code: 'older' | 'alphabet' | 'rule.earlier' | 'first' };
