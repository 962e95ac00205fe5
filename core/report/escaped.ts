const CHARACTERS: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' };

/** Text as it stands in HTML and SVG, in elements and in attributes. */
export const escaped = (text: string): string => text.replace(/[&<>"']/g, (c) => CHARACTERS[c]!);
