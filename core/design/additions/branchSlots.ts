/** Places of a branch: "B1" has C11; L11 where it is a filter, D11 where it is a clamp. */
export const slotsOf = (id: string): { C: string; L: string; D: string } => ({ C: `C1${id.slice(1)}`, L: `L1${id.slice(1)}`, D: `D1${id.slice(1)}` });
