import { useEffect, useRef } from 'react';
import { saveFile } from '../state/session';
import { useOverlay } from './Find';
import { typing } from './typing';

/** What keys do in a frame, besides finding and saving, which they do in all. */
export interface KeyActions {
  undo(): void;
  redo(): void;
  /** Show their list */
  help(): void;
  /** Any other key, without Ctrl or Alt; whether it was one */
  other?(key: string): boolean;
}

/** Listens for the keys of a frame while it stands. */
export function useKeys(actions: KeyActions): void {
  const now = useRef(actions);
  useEffect(() => {
    now.current = actions;
  });
  useEffect(() => {
    const onKeyDown = (e: KeyboardEvent): void => {
      const command = e.ctrlKey || e.metaKey;
      const key = e.key.toLowerCase();
      const { undo, redo, help, other } = now.current;
      if (command && key === 'k') useOverlay.setState({ find: true });
      else if (command && key === 's') saveFile();
      else if (typing(e)) return;
      else if (command && key === 'z') (e.shiftKey ? redo : undo)();
      else if (command && key === 'y') redo();
      else if (command || e.altKey) return;
      else if (e.key === '?') help();
      else if (!other?.(key)) return;
      e.preventDefault();
    };
    window.addEventListener('keydown', onKeyDown);
    return () => window.removeEventListener('keydown', onKeyDown);
  }, []);
}
