'use client';
import { BRANCHES, branchPlace, dropBranch, hangBranch, takesBranches, topologyOf, type Branch } from '../../../core/design';
import frame from '../../frame/frame.module.css';
import { useShelf } from '../../state/shelf';
import { actions, useStore } from '../../state/store';

const KINDS = Object.keys(BRANCHES) as Branch['kind'][];

/** What hangs on the output beside the topology's own parts, and what could. */
export function Branches() {
  const design = useStore((s) => s.design);
  const shelf = useShelf();
  const topology = topologyOf(design)!;
  if (!takesBranches(topology)) return null;
  const change = (next: ReturnType<typeof hangBranch>, selected?: string): void => {
    if (!next.ok) return actions.refuse(next.problem);
    actions.take(next.value);
    if (selected) actions.select(selected);
  };
  const hang = (kind: Branch['kind']): void => {
    const next = hangBranch(design, kind, shelf);
    const id = next.ok ? Object.keys(next.value.branches!).find((x) => !design.branches?.[x]) : undefined;
    change(next, id && branchPlace(id));
  };
  return (
    <div style={{ display: 'flex', gap: 8, alignItems: 'center', flexWrap: 'wrap', margin: '10px 0' }} data-testid="branches">
      <b>On the output</b>
      {Object.entries(design.branches ?? {}).map(([id, b]) => (
        <span key={id} className={frame.chip} style={{ display: 'inline-flex', gap: 6 }}>
          <button type="button" className={frame.link} onClick={() => actions.select(branchPlace(id))}>
            {BRANCHES[b.kind].title}, {branchPlace(id)}
          </button>
          <button type="button" className={frame.link} aria-label={`Take ${BRANCHES[b.kind].title} away`} title="Take it away" onClick={() => change(dropBranch(design, id))}>
            ✕
          </button>
        </span>
      ))}
      {KINDS.map((kind) => (
        <button key={kind} type="button" className={frame.chip} title={BRANCHES[kind].purpose} onClick={() => hang(kind)}>
          hang a {BRANCHES[kind].title}
        </button>
      ))}
    </div>
  );
}
