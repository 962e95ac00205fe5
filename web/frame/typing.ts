/** Is a key meant for a field that is typed into? */
export const typing = (e: KeyboardEvent): boolean => e.target instanceof HTMLElement && ((/^(INPUT|TEXTAREA|SELECT)$/.test(e.target.tagName) && !e.target.matches('[type=checkbox]')) || e.target.isContentEditable);
