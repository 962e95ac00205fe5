'use client';
import { useRouter } from 'next/navigation';
import { Find, type Entry } from '../frame/Find';
import { circuitActions, useCircuit } from '../state/circuit';
import { deleteCircuit, saveFile } from '../state/session';
import { SHOWN } from './shown';

/** Ctrl K over a circuit: its stages, its elements, what can be done with it. */
export function CircuitFind({ help }: { help: () => void }) {
  const router = useRouter();
  const { elements } = useCircuit((s) => s.open!.converter.circuit);
  const entries: Entry[] = [
    ...SHOWN.map((s): Entry => ({ group: 'Stages', label: s.title, act: () => router.push(`/${s.id}`) })),
    ...elements.map((e): Entry => ({ group: 'Elements', label: `${e.id} · ${e.kind.replaceAll('-', ' ')}`, act: () => circuitActions.select(e.id) })),
    { group: 'Actions', label: 'Undo', act: circuitActions.undo },
    { group: 'Actions', label: 'Redo', act: circuitActions.redo },
    { group: 'Actions', label: 'Save as a file', act: saveFile },
    { group: 'Actions', label: 'Delete this circuit', act: deleteCircuit },
    { group: 'Actions', label: 'Keys', act: help },
  ];
  return <Find entries={entries} what="a stage, an element, an action" />;
}
