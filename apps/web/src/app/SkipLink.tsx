/** The first stop of the tab key: past the bar and the course to the sheet, or to what the page has instead of one. */
export function SkipLink() {
  const skip = () => {
    const main = document.querySelector<HTMLElement>('main');
    const cell = main?.querySelector<HTMLElement>('[role=grid] [role=gridcell][tabindex="0"]');
    (cell ?? main)?.focus();
  };
  return (
    <button type="button" className="btn btn-sm btn-primary sr-only focus:not-sr-only" onClick={skip}>
      Skip to the sheet
    </button>
  );
}
