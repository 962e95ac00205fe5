'use client';
import { useRouter } from 'next/navigation';
import { STAGES } from '../stages/list';
import { actions } from '../state/store';
import { Find, useDesignEntries, useOverlay } from './Find';
import { Help } from './Help';
import { useKeys } from './useKeys';

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
  ['?', 'help, keys and words'],
];

/** Keys that work everywhere, and their list. */
export function Keys() {
  const open = useOverlay((s) => s.keys);
  const router = useRouter();
  useKeys({
    undo: actions.undo,
    redo: actions.redo,
    help: () => useOverlay.setState({ keys: true }),
    other: (key) => {
      if (key === 'k') actions.keep();
      else if (key === 'f') actions.foldPath();
      else if (/^[1-8]$/.test(key)) router.push(`/${STAGES[Number(key) - 1]!.id}`);
      else return false;
      return true;
    },
  });
  return (
    <>
      <Find entries={useDesignEntries()} />
      <Help keys={KEYS} open={open} onClose={() => useOverlay.setState({ keys: false })} />
    </>
  );
}
