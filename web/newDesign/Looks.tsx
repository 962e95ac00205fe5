'use client';
import { useState } from 'react';
import { candidateCount } from '../../core/choice';
import { ranked } from '../../core/proposal';
import { printQuantity as print } from '../../core/quantity';
import { newDesignActions, useNewDesign, wanted } from '../state/newDesign';
import frame from '../frame/frame.module.css';
import css from './newDesign.module.css';

/** The topologies held against what is asked while one types: the likeliest first, and those that can not, with why. */
export function Looks() {
  const state = useNewDesign();
  const [all, setAll] = useState(false);
  const [why, setWhy] = useState(false);
  const { looks, looksOf, progress, read, proposal, proposalOf } = state;
  const able = ranked(looks);
  const unable = looks.filter((l) => l.refusal);
  const id = wanted(state);
  const shown = all ? able : able.slice(0, 6);
  const stale = looksOf !== read.asked;
  return (
    <section aria-label="Topologies">
      <h2>Held against it while you type</h2>
      {progress !== undefined && (
        <p className="muted" role="status">
          {Math.round(progress * candidateCount)} of {candidateCount} topologies held against it
        </p>
      )}
      {looks.length === 0 && progress === undefined && <p className="muted">Give line, output and load, and what can serve them stands here.</p>}
      <ul className={`${css.looks} ${stale ? 'stale' : ''}`} data-testid="looks">
        {shown.map((l) => (
          <li key={l.id}>
            <button type="button" className={css.look} aria-pressed={l.id === id} data-look={l.id} onClick={() => newDesignActions.choose(l.id)}>
              <b>
                {l.title}
                {l.inverts && <small className="muted"> negative</small>}
              </b>
              <span className={css.bar} aria-hidden="true">
                <span style={{ width: `${Math.max(4, 100 * (l.efficiency! - 0.5) * 2)}%` }} />
              </span>
              <span className="mono" title="efficiency at full load, by the closed forms">{print(l.efficiency!, '%', 3)}</span>
              <span className="mono muted">
                {proposal?.id === l.id && proposalOf === looksOf ? `${proposal.holding} of ${proposal.corners}` : `${l.partCount} parts`}
              </span>
            </button>
          </li>
        ))}
      </ul>
      {able.length > shown.length && (
        <button type="button" className={`${frame.link} muted`} onClick={() => setAll(true)}>
          {able.length - shown.length} more can
        </button>
      )}
      {looks.length > 0 && able.length === 0 && <p>No power stage here can serve that as a whole.</p>}
      {unable.length > 0 && (
        <p className="muted">
          {unable.length} {able.length > 0 ? 'more ' : ''}can not:{' '}
          <button type="button" className={frame.link} aria-expanded={why} onClick={() => setWhy(!why)}>
            why
          </button>
        </p>
      )}
      {why && (
        <ul className={css.reasons} tabIndex={0} aria-label="Why they can not">
          {unable.map((l) => (
            <li key={l.id}>
              <b>{l.title}</b> <span className="muted">{l.refusal!.message}: {l.refusal!.remedy}.</span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
