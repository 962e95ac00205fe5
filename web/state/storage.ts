import Dexie, { type Table } from 'dexie';
import type { Design } from '../../core/design';
import type { Part } from '../../core/parts/schema';
import type { OperatingPoint } from '../../core/topology';

/** A kept state: a design laid over the one in work. */
export interface Kept {
  id: string;
  /** "A", "B" … and what differs */
  label: string;
  design: Design;
  visible: boolean;
}

/** What undo goes back to. */
export interface Snapshot {
  design: Design;
  kept: Kept[];
}

/** A stored design with all that belongs to it. */
export interface StoredDesign extends Snapshot {
  id: string;
  name: string;
  updated: number;
  past: Snapshot[];
  future: Snapshot[];
  point: OperatingPoint;
}

class Store extends Dexie {
  designs!: Table<StoredDesign, string>;
  settings!: Table<{ key: string; value: string }, string>;
  /** The engineer's own parts, by name */
  parts!: Table<Part, string>;
  constructor() {
    super('jump-reed');
    this.version(1).stores({ designs: 'id, updated', settings: 'key' });
    this.version(2).stores({ parts: 'part' });
  }
}

let store: Store | undefined;
export const storage = (): Store => (store ??= new Store());
