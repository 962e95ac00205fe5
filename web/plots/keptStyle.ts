/** Dash and colour of the n-th kept state: the same on every plot and on the kept strip. */
const STYLES = [
  { colour: 'var(--plum)', name: 'plum', dash: [6, 3] },
  { colour: 'var(--slate)', name: 'slate', dash: [2, 2.5] },
  { colour: 'var(--ochre)', name: 'ochre', dash: [9, 3, 2, 3] },
  { colour: 'var(--rust)', name: 'rust', dash: [4, 2, 1, 2] },
] as const;

export const keptStyle = (index: number): { colour: string; name: string; dash: number[] } => {
  const s = STYLES[index % STYLES.length]!;
  return { ...s, dash: [...s.dash] };
};
