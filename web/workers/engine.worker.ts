import { expose } from 'comlink';
import type { Design } from '../../core/design';
import { ofDesign, others } from './functions';
import { UNKNOWN } from './named';

/** Designs that were sent, by name; the one not asked for longest is forgotten first. */
const designs = new Map<string, Design>();
const MOST_DESIGNS = 64;

/** Held for as long as this worker lives, by its name, so that who waits for it learns that it does not any more. */
const held = new Promise<void>((alive) => {
  if (!navigator.locks) return alive();
  void navigator.locks.request(self.name, () => {
    alive();
    return new Promise<never>(() => undefined);
  });
});

type Any = Record<string, (...args: unknown[]) => unknown>;

const wire = {
  alive: (): Promise<void> => held,
  ask: (method: string, args: unknown[]): unknown => (others as Any)[method]!(...args),
  askOf(method: string, name: string, sent: Design | undefined, rest: unknown[]): unknown {
    const design = designs.get(name) ?? sent;
    if (!design) return UNKNOWN;
    designs.delete(name);
    designs.set(name, design);
    if (designs.size > MOST_DESIGNS) designs.delete(designs.keys().next().value!);
    return (ofDesign as Any)[method]!(design, ...rest);
  },
};

export type Wire = typeof wire;
expose(wire);
