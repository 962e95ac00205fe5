'use client';
import { useRef, useState } from 'react';
import { printQuantity as print } from '../../../core/quantity';
import { WorkingCard } from '../../frame/WorkingCard';
import { SaveMenu } from '../../plots/SaveMenu';
import { useStore } from '../../state/store';
import css from '../stages.module.css';
import { lossActions, useLossMap } from '../../state/lossMap';
import frame from '../../frame/frame.module.css';
import { Choices } from './Choices';
import { Beside, useThen } from '../Beside';
import { EfficiencyPlot } from './EfficiencyPlot';
import { LossBars } from './LossBars';
import { LossMap } from './LossMap';
import { OverOne } from './OverOne';

const VIEWS = [['here', 'here'], ['over', 'over'], ['map', 'map'], ['choices', 'choices']] as const;

/** Where the watts go: by part and mechanism at the point in view, and efficiency over load and line. */
export function LossesStage() {
  const { figures, fresh, map } = useStore((s) => s.answers);
  const [chosen, setChosen] = useState<string>();
  const view = useLossMap((s) => s.view);
  const svg = useRef<SVGSVGElement>(null);
  const { losses, detail } = figures!;
  const before = useThen();
  const working = detail?.workings[chosen ?? ''] ?? detail?.workings['losses/efficiency'];
  return (
    <div className={css.columns} style={view === 'choices' ? { gridTemplateColumns: 'minmax(0, 1fr)' } : undefined}>
      <div className={css.stack}>
        <div className={css.head}>
        <h2 className={fresh ? '' : 'stale'} style={{ margin: 0 }}>
          <span data-testid="total-loss">{print(losses.total, 'W')}</span> lost of {print(losses.input, 'W', 4)}, <span data-testid="efficiency">{print(losses.efficiency, '%', 4)}</span> efficient
        </h2>
          <div className={css.tabs} role="group" aria-label="Losses seen">
            {VIEWS.map(([id, title]) => (
              <button key={id} type="button" className={frame.chip} aria-pressed={view === id} onClick={() => lossActions.show(id)}>
                {title}
              </button>
            ))}
          </div>
        </div>
        {view === 'over' && <OverOne />}
        {view === 'map' && <LossMap />}
        {view === 'choices' && <Choices />}
        {view === 'here' && <>
        <LossBars parts={losses.parts} chosen={chosen} onChoose={setChosen} kept={before.map(({ label, colour, figures: f }) => ({ label, colour, parts: f.losses.parts }))} />
        <div className={css.head} style={{ marginTop: 12 }}>
          <h2 style={{ margin: 0 }}>Efficiency over load</h2>
          <SaveMenu
            svg={svg}
            name="efficiency"
            columns={() => ({ 'line (V)': map!.rows.flat().map((c) => c.line), 'load (A)': map!.rows.flat().map((c) => c.load), efficiency: map!.rows.flat().map((c) => c.values.efficiency ?? NaN) })}
          />
        </div>
        <EfficiencyPlot svg={svg} />
        </>}
      </div>
      {view !== 'choices' && <div style={{ overflow: 'auto' }}>
        {working && (
          <>
            <h2>Working: {working.title}</h2>
            <WorkingCard working={working} />
            {!chosen && before.length === 0 && <p className="muted">Choose a piece of a bar to see where its watts come from.</p>}
            <Beside now={figures!} what="losses" />
          </>
        )}
      </div>}
    </div>
  );
}
