import { useRouter } from 'next/navigation';
import { useKeys } from '../frame/useKeys';
import { STAGES } from '../stages/list';
import { circuitActions } from '../state/circuit';

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
export function useCircuitKeys(help: () => void): void {
  const router = useRouter();
  useKeys({
    undo: circuitActions.undo,
    redo: circuitActions.redo,
    help,
    other: (key) => {
      const stage = SHOWN.find((s) => s.key === key);
      if (stage) router.push(`/${stage.id}`);
      return stage !== undefined;
    },
  });
}
