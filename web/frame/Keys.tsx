'use client';
import { useRouter } from 'next/navigation';
import { useEffect } from 'react';
import { STAGES } from '../stages/list';
import { saveFile } from '../state/session';
import { actions } from '../state/store';
import { Find, useDesignEntries, useOverlay } from './Find';
import { KeyList } from './KeyList';
import { typing } from './typing';

const KEYS: [string, string][] = [
  ['1 – 8', 'the stages, in order'],
  ['K', 'keep this state'],
  ['F', 'fold the power path to a strip, and unfold it'],
  ['Ctrl Z', 'undo'],
  ['Ctrl Shift Z', 'redo'],
  ['Ctrl K', 'find a stage, part, figure or action'],
  ['Ctrl S', 'save the design as a file'],
  ['arrows on the pad', 'move the operating point; with Shift, in larger steps'],
  ['arrows on a zero or pole', 'move it; with Shift, in larger steps'],
  ['?', 'this list'],
];

/** Keys that work everywhere, and their list. */
export function Keys() {
  const open = useOverlay((s) => s.keys);
  const router = useRouter();
  useEffect(() => {
    const onKeyDown = (e: KeyboardEvent): void => {
      const command = e.ctrlKey || e.metaKey;
      const key = e.key.toLowerCase();
      if (command && key === 'k') useOverlay.setState({ find: true });
      else if (command && key === 's') saveFile();
      else if (typing(e)) return;
      else if (command && key === 'z') (e.shiftKey ? actions.redo : actions.undo)();
      else if (command && key === 'y') actions.redo();
      else if (command || e.altKey) return;
      else if (key === 'k') actions.keep();
      else if (key === 'f') actions.foldPath();
      else if (e.key === '?') useOverlay.setState({ keys: true });
      else if (/^[1-8]$/.test(e.key)) router.push(`/${STAGES[Number(e.key) - 1]!.id}`);
      else return;
      e.preventDefault();
    };
    window.addEventListener('keydown', onKeyDown);
    return () => window.removeEventListener('keydown', onKeyDown);
  }, [router]);
  return (
    <>
      <Find entries={useDesignEntries()} />
      <KeyList keys={KEYS} open={open} onClose={() => useOverlay.setState({ keys: false })} />
    </>
  );
}
