import type { Part } from '../parts/schema';
import { ok, type Result } from '../problem';
import { chooseTopology } from './choose';
import { blank, type Asked, type Taken } from './usual';
import type { Design } from '../design/schema';

/** A design made of nothing but what it is asked for. */
export interface NewDesign {
  design: Design;
  taken: Taken[];
}

/** The design of one topology for what is asked, as its closed forms have it. Problems as of `chooseTopology`. */
export function newDesign(asked: Asked, topology: string, shelf: readonly Part[], name = 'New design'): Result<NewDesign> {
  const { design, taken } = blank(asked, name);
  const chosen = chooseTopology(design, topology, shelf);
  return chosen.ok ? ok({ design: chosen.value, taken }) : chosen;
}
