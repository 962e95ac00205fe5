import { createContext, useContext } from 'react';
import { ableFor, mended } from '../../core/choice';
import { editDesign, valueAt } from '../../core/design';
import type { Problem } from '../../core/problem';
import { actions, useStore } from '../state/store';

/** What a field changes: the design in work, or another document that stands in its place. */
export interface Edited {
  /** The value at a path, followed */
  useAt(path: string): unknown;
  /** The same as it is now */
  at(path: string): unknown;
  /** Was something at one of the paths refused? */
  useRefused(paths: readonly string[]): boolean;
  /** What a change would do: why it is refused, or what has to change with it, in words */
  ahead(changes: Record<string, unknown>): { problem?: Problem; with?: readonly string[] };
  /** Change it as it was typed; a refusal that is not told elsewhere is handed back */
  typed(changes: Record<string, unknown>): Problem | undefined;
  /** Change it as it is dragged: calls of one gesture are one step of undo */
  edit(changes: Record<string, unknown>, gesture?: string): Problem | undefined;
  endGesture(): void;
  /** Put away what was refused */
  dismiss(): void;
}

const now = () => useStore.getState().design;

const theDesign: Edited = {
  useAt: (path) => useStore((s) => valueAt(s.design, path)),
  at: (path) => valueAt(now(), path),
  useRefused: (paths) => useStore((s) => s.refusal !== undefined && paths.includes(s.refusal.where)),
  ahead(changes) {
    const found = editDesign(now(), changes);
    if (found.ok) return {};
    const both = mended(now(), changes);
    return both ? { with: both.said } : { problem: found.problem };
  },
  typed(changes) {
    const wrong = actions.edit(mended(now(), changes)?.changes ?? changes);
    if (wrong?.code !== 'impossible') {
      if (wrong) actions.dismiss();
      return wrong;
    }
    // What only this topology refuses is told with those that can serve it; all else where it is typed, and nowhere else.
    actions.offer(wrong, { changes, able: ableFor(now(), changes) });
    return undefined;
  },
  edit: actions.edit,
  endGesture: actions.endGesture,
  dismiss: actions.dismiss,
};

export const EditedDocument = createContext(theDesign);
export const useEdited = (): Edited => useContext(EditedDocument);
