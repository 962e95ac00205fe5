'use client';
import { branchSlot, dropBranch, hangBranch, type Behind } from '../../../core/choice';
import { BRANCHES, canHangAcross, takesBranches } from '../../../core/branches';
import type { Branch } from '../../../core/branches/branch';
import { topologyOf } from '../../../core/design';
import { useState } from 'react';
import { BranchCard, hasCard } from './BranchCard';
import { StageOffer } from './StageOffer';
import frame from '../../frame/frame.module.css';
import { QuantityField } from '../../frame/QuantityField';
import { useShelf } from '../../state/shelf';
import { actions, useStore } from '../../state/store';

const KINDS = Object.keys(BRANCHES) as Branch['kind'][];

/** What hangs on the output or across a part beside the topology's own parts, and what could. */
export function Branches() {
  const design = useStore((s) => s.design);
  const selected = useStore((s) => s.selected);
  const shelf = useShelf();
  const topology = topologyOf(design)!;
  const across = canHangAcross(topology).find((p) => p.id === selected)?.id;
  const change = (next: ReturnType<typeof hangBranch>, slot?: string): void => {
    if (!next.ok) return actions.refuse(next.problem);
    actions.take(next.value);
    if (slot && next.value.parts[slot]) actions.select(slot);
  };
  const [offered, setOffered] = useState<Behind>();
  const [opened, setOpened] = useState<string>();
  const shown = opened === undefined ? undefined : design.branches?.[opened];
  const named = (id: string, b: Branch): string => `${BRANCHES[b.kind].title}${b.at ? ` across ${b.at}` : ''}${BRANCHES[b.kind].fills.length > 0 ? `, ${branchSlot(id)}` : ''}`;
  const hang = (kind: Branch['kind']): void => {
    // It may cost the loop its margin: that is said before.
    if (kind === 'filter' || kind === 'bead') return setOffered(kind);
    const next = hangBranch(design, kind, shelf, BRANCHES[kind].across && across ? { at: across } : {});
    const id = next.ok ? Object.keys(next.value.branches!).find((x) => !design.branches?.[x]) : undefined;
    change(next, id && branchSlot(id));
    if (id && hasCard(kind)) setOpened(id);
  };
  return (
    <>
    <div style={{ display: 'flex', gap: 8, alignItems: 'center', flexWrap: 'wrap', margin: '10px 0' }} data-testid="branches">
      <b>Hung on it</b>
      {Object.entries(design.branches ?? {}).map(([id, b]) => (
        <span key={id} className={frame.chip} style={{ display: 'inline-flex', gap: 6 }}>
          <button type="button" className={frame.link} aria-expanded={hasCard(b.kind) ? opened === id : undefined} onClick={() => (BRANCHES[b.kind].fills.length > 0 && actions.select(branchSlot(id)), setOpened(opened === id ? undefined : id))}>
            {named(id, b)}
          </button>
          {b.at && b.stray !== undefined && <QuantityField path={`branches.${id}.stray`} label={`inductance of the loop at ${b.at}`} />}
          <button type="button" className={frame.link} aria-label={`Take ${BRANCHES[b.kind].title} away`} title="Take it away" onClick={() => change(dropBranch(design, id))}>
            ✕
          </button>
        </span>
      ))}
      {KINDS.filter((kind) => (BRANCHES[kind].across ? across !== undefined : BRANCHES[kind].line === true || takesBranches(topology))).map((kind) => (
        <button key={kind} type="button" className={frame.chip} title={BRANCHES[kind].purpose} onClick={() => hang(kind)}>
          hang a {BRANCHES[kind].title}
          {BRANCHES[kind].across ? ` across ${across}` : ''}
        </button>
      ))}
      {across === undefined && <span className="muted">Select a switch or diode to hang a snubber or clamp across it.</span>}
    </div>
    {opened !== undefined && shown && <BranchCard id={opened} branch={shown} leave={() => setOpened(undefined)} />}
    {offered && <StageOffer kind={offered} leave={(id) => (setOffered(undefined), id && setOpened(id))} />}
    </>
  );
}
