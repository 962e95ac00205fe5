import type { KeyboardEvent } from 'react';

/** What makes a row of a table one that is chosen, by pointer and by keyboard alike. */
export const choosable = (choose: () => void): { 'data-clickable': true; tabIndex: 0; onClick: () => void; onKeyDown: (e: KeyboardEvent) => void } => ({
  'data-clickable': true,
  tabIndex: 0,
  onClick: choose,
  onKeyDown(e) {
    if (e.target !== e.currentTarget || (e.key !== 'Enter' && e.key !== ' ')) return;
    e.preventDefault();
    choose();
  },
});
