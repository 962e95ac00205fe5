import { useRouter } from 'next/navigation';
import { useEffect } from 'react';
import { useOverlay } from '../frame/Find';
import { typing } from '../frame/typing';
import { STAGES } from '../stages/list';
import { circuitActions } from '../state/circuit';
import { saveFile } from '../state/session';

const SERVED = ['power-stage', 'waveforms', 'loop', 'losses'] as const;
export type Served = (typeof SERVED)[number];

/** The stages that a circuit with roles fills, with the key that each has among all. */
export const SHOWN = STAGES.flatMap(({ id, title }, k) => (SERVED.includes(id as Served) ? [{ id: id as Served, title, key: String(k + 1) }] : []));

/** Keys that work while a circuit is open. */
export const KEYS: readonly (readonly [key: string, what: string])[] = [
  [SHOWN.map((s) => s.key).join(' '), `${SHOWN.map((s) => s.title).join(', ')}`],
  ['Ctrl Z', 'undo'],
  ['Ctrl Shift Z', 'redo'],
  ['Ctrl K', 'find a stage, element or action'],
  ['Ctrl S', 'save the circuit as a file'],
  ['?', 'this list'],
];

/** Listens for them; `help` is told when their list is asked for. */
export function useKeys(help: () => void): void {
  const router = useRouter();
  useEffect(() => {
    const onKeyDown = (e: KeyboardEvent): void => {
      const command = e.ctrlKey || e.metaKey;
      const key = e.key.toLowerCase();
      const stage = SHOWN.find((s) => s.key === e.key);
      if (command && key === 'k') useOverlay.setState({ find: true });
      else if (command && key === 's') saveFile();
      else if (typing(e)) return;
      else if (command && key === 'z') (e.shiftKey ? circuitActions.redo : circuitActions.undo)();
      else if (command && key === 'y') circuitActions.redo();
      else if (e.key === '?') help();
      else if (!command && !e.altKey && stage) router.push(`/${stage.id}`);
      else return;
      e.preventDefault();
    };
    window.addEventListener('keydown', onKeyDown);
    return () => window.removeEventListener('keydown', onKeyDown);
  }, [router, help]);
}
