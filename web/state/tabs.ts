import type { PackedDesign } from './history';

/**
 * Which tab may change a design: the one that holds its lock (Web Locks). The others follow what it stores, over a
 * channel, and can take the lock over; when the tab that holds it goes, the next one gets it.
 */
export interface Tabs {
  /** Ask for a design; whether this tab may change it is told through `changed` */
  hold(id: string): void;
  /** Take it from the tab that has it */
  takeOver(): void;
  /** Tell the other tabs what was stored, or that it is gone */
  tell(told: Told): void;
  close(): void;
}

export type Told = { id: string; stored: PackedDesign } | { id: string; deleted: true };

interface Ears {
  /** May this tab change the design? */
  changed(id: string, mine: boolean): void;
  told(told: Told): void;
}

const nameOf = (id: string): string => `jump-reed design ${id}`;

export function openTabs({ changed, told }: Ears): Tabs {
  const locks = typeof navigator === 'undefined' ? undefined : navigator.locks;
  const channel = typeof BroadcastChannel === 'undefined' ? undefined : new BroadcastChannel('jump-reed');
  channel?.addEventListener('message', (e: MessageEvent<Told>) => told(e.data));
  let current: string | undefined;
  /** Ends holding, or waiting for, the lock of the design before */
  let leave: () => void = () => undefined;

  const request = (id: string, steal: boolean): void => {
    if (!locks) return changed(id, true);
    const waiting = new AbortController();
    let held = false;
    let done: () => void = () => waiting.abort();
    leave = () => done();
    const granted = (): Promise<void> => {
      held = true;
      if (current === id) changed(id, true);
      return new Promise((release) => (done = release));
    };
    // Who waits is told at once that he does.
    const wait = steal ? locks.request(nameOf(id), { steal: true }, granted) : locks.request(nameOf(id), { signal: waiting.signal }, granted);
    if (!steal) void locks.query().then(({ held: all }) => !held && current === id && all?.some((l) => l.name === nameOf(id)) && changed(id, false));
    wait.catch(() => {
      // Taken over by another tab: follow it, and be the next in turn.
      if (!held || current !== id) return;
      changed(id, false);
      request(id, false);
    });
  };

  return {
    hold(id) {
      if (id === current) return;
      leave();
      current = id;
      request(id, false);
    },
    takeOver() {
      if (current === undefined) return;
      leave();
      request(current, true);
    },
    tell: (message) => channel?.postMessage(message),
    close() {
      current = undefined;
      leave();
      channel?.close();
    },
  };
}
