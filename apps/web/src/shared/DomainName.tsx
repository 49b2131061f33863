import { Fragment } from 'react';

/** A domain name that may break after its dots. */
export function DomainName({ name }: { readonly name: string }) {
  return name.split('.').map((label, i) => (
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
