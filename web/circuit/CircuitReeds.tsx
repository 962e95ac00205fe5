'use client';
import Link from 'next/link';
import { usePathname } from 'next/navigation';
import { roomsOf } from '../../core/converter/verdict';
import type { ConverterView } from '../../core/converter/view';
import { printQuantity as print } from '../../core/quantity';
import frame from '../frame/frame.module.css';
import { Reed } from '../frame/Reed';
import { useCircuit } from '../state/circuit';
import { SHOWN, type Served } from './shown';

/** The one figure of each stage. */
function figureOf(stage: Served, { figures: f }: ConverterView): string {
  const [loop] = f.loops;
  switch (stage) {
    case 'power-stage':
      return f.conduction ?? `${Object.keys(f.stresses).length} parts`;
    case 'waveforms':
      return `${print(f.outputs[0]!.voltage.peakToPeak, 'V')} pp`;
    case 'loop':
      return f.leaves ? 'not stable' : !loop ? 'none named' : loop.beyond === undefined ? `${print(loop.crossover, 'Hz')} · ${Math.round(loop.phaseMargin)}°` : `stays ${loop.beyond} one`;
    case 'losses':
      return `${print(f.losses.efficiency, '%')} · ${print(f.losses.total, 'W')}`;
  }
}

/** One strip a stage, as of a design. */
export function CircuitReeds() {
  const path = usePathname();
  const view = useCircuit((s) => s.view);
  const stale = useCircuit((s) => (s.fresh ? '' : 'stale'));
  const rooms = view && roomsOf(view.figures);
  const roomOf: Record<Served, number | undefined> = { 'power-stage': undefined, waveforms: rooms?.outputs, loop: rooms?.loops, losses: undefined };
  return (
    <ul className={frame.reeds}>
      {SHOWN.map(({ id, title }) => (
        <li key={id}>
          <Link href={`/${id}`} className={frame.strip} aria-current={path === `/${id}` ? 'page' : undefined} data-stage={id}>
            <span className={stale}>
              <Reed room={roomOf[id]} />
            </span>
            <span>
              <div className={frame.stripTitle}>{title}</div>
              <div className={`${frame.stripFigure} ${stale}`} data-testid={`reed-${id}`}>
                {view ? figureOf(id, view) : '…'}
              </div>
            </span>
          </Link>
        </li>
      ))}
    </ul>
  );
}
