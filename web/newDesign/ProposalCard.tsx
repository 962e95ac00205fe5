'use client';
import { topologyOf } from '../../core/design';
import { describeProblem } from '../../core/problem';
import { printQuantity as print, printTyped } from '../../core/quantity';
import { copiesOf, topologyNamed } from '../../core/topology';
import type { Proposal } from '../../core/proposal';
import { useNewDesign } from '../state/newDesign';
import frame from '../frame/frame.module.css';
import css from './newDesign.module.css';

/** The design that is proposed, and the action that makes it. */
export function ProposalCard() {
  const { proposal, proposalOf, making, problem, read } = useNewDesign();
  const fresh = proposal !== undefined && proposalOf === read.asked && making === undefined;
  return (
    <>
      {problem && (
        <p role="alert" className={css.wrong}>
          {describeProblem(problem)}.
        </p>
      )}
      {making !== undefined && (
        <p className="muted" role="status">
          Choosing parts for {topologyNamed(making)!.title} and holding it at every corner …
        </p>
      )}
      {proposal && (
        <div className={`${css.card} ${fresh ? '' : 'stale'}`} data-testid="proposal">
          <p>
            <b>{topologyNamed(proposal.id)!.title}</b> with parts chosen for this brief
          </p>
          {rows(proposal).map(([what, value]) => (
            <div key={what} className={frame.row}>
              <span>{what}</span>
              <span className="mono">{value}</span>
            </div>
          ))}
          <div className={frame.row}>
            <span>verdict</span>
            <span className="mono" style={{ color: proposal.holding === proposal.corners ? 'var(--spruce)' : 'var(--fail)' }}>
              holds at {proposal.holding} of {proposal.corners}
            </span>
          </div>
        </div>
      )}
      <div className={css.make}>
        <button type="submit" className={frame.primary} disabled={!fresh}>
          Make this design
        </button>
        <span className="muted">Enter</span>
      </div>
    </>
  );
}

/** What stands in the slots, the loop, and what is tightest. */
function rows({ design, crossover, phaseMargin, tightest, problem }: Proposal): [string, string][] {
  const slots = topologyOf(design)!.slots.map((p): [string, string] => {
    const part = design.parts[p.id]!;
    const many = copiesOf(p) * ('count' in part && part.kind !== 'capacitor' && part.count ? part.count : 1);
    return [p.id, `${many > 1 ? `${many} × ` : ''}${part.part}`];
  });
  return [
    ...slots,
    ...(crossover === undefined ? [] : [['loop, at its worst', `${print(crossover, 'Hz')} · ${print(phaseMargin!, '°')}`] as [string, string]]),
    ...(tightest ? [['tightest', `${tightest.title} ${print(tightest.value, tightest.unit)} of ${printTyped(tightest.limit, tightest.unit, 3)}`] as [string, string]] : []),
    ...(problem ? [['no figures', problem.message] as [string, string]] : []),
  ];
}
