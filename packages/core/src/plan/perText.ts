/**
 * What is made of a text, made once while the text is in use; `most` texts are remembered. By text and not by entity: a map with objects as
 * weak keys costs the collector more than reading does. Two generations, so that what is in use stays when the map is full.
 */
export function perText<T>(most: number, make: (text: string) => T): (text: string) => T {
  let recent = new Map<string, T>();
  let older = new Map<string, T>();
  return (text) => {
    const known = recent.get(text);
    if (known !== undefined || recent.has(text)) return known as T;
    const made = older.has(text) ? (older.get(text) as T) : make(text);
    if (recent.size >= most / 2) [older, recent] = [recent, new Map<string, T>()];
    recent.set(text, made);
    return made;
  };
}
