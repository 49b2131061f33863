import { toast } from 'sonner';

/** Puts text on the clipboard and says so; where the browser does not allow it, says that. */
export function copyText(text: string, copied: string): void {
  navigator.clipboard.writeText(text).then(
    () => toast.success(copied),
    () => toast.error('The browser does not let this page use the clipboard. Allow it for this address and try again.'),
  );
}
