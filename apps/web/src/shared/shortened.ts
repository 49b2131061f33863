/** A text of at most so many characters, the last of them an ellipsis where it was longer. */
export function shortened(text: string, most: number): string {
  return text.length > most ? `${text.slice(0, most - 1)}…` : text;
}
