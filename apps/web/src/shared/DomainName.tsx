import { shownName } from '@wide-lattice/core/zones';
import { Fragment } from 'react';

/** A domain name in its own letters, which may break after its dots. */
export function DomainName({ name }: { readonly name: string }) {
  return shownName(name)
    .split('.')
    .map((label, i) => (
      <Fragment key={i}>
        {i > 0 && (
          <>
            .<wbr />
          </>
        )}
        {label}
      </Fragment>
    ));
}
