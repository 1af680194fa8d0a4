/** Where a website leads to: an address of the web, or nothing. What listings give may be any text, "javascript:" among them. */
export function webAddress(text: string): string | undefined {
  if (/^https?:\/\//i.test(text)) return text;
  return !text || /^[a-z][a-z0-9+.-]*:/i.test(text) ? undefined : `https://${text}`;
}
