/** What a letter takes, and what stands between a step and its label (px) */
const [LETTER, AWAY] = [6.3, 9];

/** px that a label takes from its step on */
export const widthOf = (text: string): number => AWAY + text.length * LETTER;

/** Where each label of the timeline stands: beside its step (before it at the right edge), in the first row where it lies on no other. */
export function rowsOfLabels(labels: readonly { x: number; text: string }[], right: number): { row: number; before: boolean }[] {
  const taken: [number, number][][] = [];
  return labels.map(({ x, text }) => {
    const wide = widthOf(text);
    const before = x + wide > right;
    const [from, to] = before ? [x - wide, x] : [x, x + wide];
    let row = taken.findIndex((spans) => spans.every(([a, b]) => to + 6 <= a || from >= b + 6));
    if (row < 0) row = taken.push([]) - 1;
    taken[row]!.push([from, to]);
    return { row, before };
  });
}
