import Dexie, { type Table } from 'dexie';
import type { Design } from '../../core/design';
import type { Goods } from '../../core/parts/goods';
import type { Part } from '../../core/parts/schema';
import type { OperatingPoint } from '../../core/topology';
import type { PackedDesign } from './history';
import type { StoredAnswer } from '../workers/answers';

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

/** A stored circuit with roles: the text of its file, and what undo goes back to. */
export interface StoredCircuit {
  id: string;
  name: string;
  updated: number;
  text: string;
  past: string[];
  future: string[];
}

/** A record that could not be read: as text, so that nothing of it is lost. */
export interface SetAside {
  id: string;
  name: string;
  why: string;
  text: string;
}

class Store extends Dexie {
  answers!: Table<StoredAnswer, string>;
  aside!: Table<SetAside, string>;
  circuits!: Table<StoredCircuit, string>;
  designs!: Table<PackedDesign, string>;
  settings!: Table<{ key: string; value: string }, string>;
  /** The engineer's own parts, by name */
  parts!: Table<Part, string>;
  /** Own sinks, wires and core materials */
  goods!: Table<Goods, string>;
  /** The folder that a design lies in, by the design's id; none where it lies in no folder */
  folders!: Table<{ id: string; folder: string }, string>;
  constructor() {
    super('jump-reed');
    this.version(1).stores({ designs: 'id, updated', settings: 'key' });
    this.version(2).stores({ parts: 'part' });
    this.version(3).stores({ circuits: 'id, updated' });
    this.version(4).stores({ aside: 'id' });
    this.version(5).stores({ answers: 'key, at', goods: 'part' });
    this.version(6).stores({ folders: 'id' });
  }
}

let store: Store | undefined;
export const storage = (): Store => (store ??= new Store());
