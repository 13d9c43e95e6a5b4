/** A size in decimal units (IEC 80000-13): "21 kB", "1.4 MB". */
export function sizeWords(bytes: number): string {
  if (bytes >= 1_000_000) return `${(bytes / 1_000_000).toFixed(1)} MB`
  return `${Math.max(1, Math.round(bytes / 1000))} kB`
}
