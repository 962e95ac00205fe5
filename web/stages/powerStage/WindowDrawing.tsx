'use client';
import type { Wound } from '../../../core/magnetics/wind';
import { cutTo } from '../../../core/magnetics/window';
import { printQuantity as print } from '../../../core/quantity';
import plots from '../../plots/plots.module.css';

const [WIDTH, HEIGHT, EDGE] = [330, 240, 26];
/** More turns than that are drawn as layers */
const MOST_DRAWN = 400;

/**
 * The core cut through its leg, to scale: both windows with what lies in them, the gap, and how full the core is at the largest current.
 * @param peak T of the worst corner
 */
export function WindowDrawing({ wound, peak }: { wound: Wound; peak: number }) {
  const { core, material, wire, turns, parallel, laid, gap = 0 } = wound;
  const leg = Math.sqrt(core.coreArea);
  const wide = 2 * core.windowWidth + 2 * leg;
  const high = core.windowHeight + leg;
  const k = Math.min((WIDTH - 2 * EDGE) / wide, (HEIGHT - 2 * EDGE) / high);
  const [cx, cy] = [WIDTH / 2, HEIGHT / 2];
  const [w, h, l] = [core.windowWidth * k, core.windowHeight * k, leg * k];
  const over = laid.fits ? 'var(--rust)' : 'var(--fail)';
  const wires = turns * parallel;
  const pitch = wire.outerDiameter * k;
  const flat = wire.width === undefined ? undefined : k * cutTo(core, wire).width!;
  // A last layer that is not full is spread out with the others.
  const inLayer = Math.min(laid.perLayer, Math.ceil(wires / laid.layers));
  const even = h / inLayer;
  const places = wires <= MOST_DRAWN ? Array.from({ length: wires }, (_, i) => [Math.floor(i / inLayer), i % inLayer] as const) : [];
  const g = Math.max(1.5, Math.min(h, gap * k));
  return (
    <svg width={WIDTH} height={HEIGHT} role="img" aria-label={`The core cut open: ${turns} turns in ${laid.layers} layers`}>
      <rect x={cx - (l / 2 + w + l / 2)} y={cy - h / 2 - l / 2} width={2 * w + 2 * l} height={h + l} rx={3} fill="var(--muted)" fillOpacity={0.38} />
      {[-1, 1].map((side) => {
        const left = side < 0 ? cx - l / 2 - w : cx + l / 2;
        const at = (layer: number): number => (side < 0 ? cx - l / 2 - (layer + 0.5) * pitch : cx + l / 2 + (layer + 0.5) * pitch);
        return (
          <g key={side}>
            <rect x={left} y={cy - h / 2} width={w} height={h} fill="var(--card)" />
            {places.map(([layer, place], i) => flat !== undefined ? (
              <rect key={i} x={at(layer) - (wire.diameter * k) / 2} y={cy - h / 2 + (place + 0.5) * even - flat / 2} width={Math.max(0.6, wire.diameter * k)} height={flat} fill={over} fillOpacity={layer % 2 === 0 ? 0.95 : 0.65} />
            ) : (
              <circle key={i} cx={at(layer)} cy={cy - h / 2 + (place + 0.5) * even} r={Math.max(0.7, (0.92 * pitch) / 2)} fill={over} fillOpacity={layer % 2 === 0 ? 0.95 : 0.65} />
            ))}
            {places.length === 0 && Array.from({ length: laid.layers }, (_, layer) => <rect key={layer} x={at(layer) - 0.46 * pitch} y={cy - h / 2} width={0.92 * pitch} height={h} fill={over} fillOpacity={layer % 2 === 0 ? 0.9 : 0.6} />)}
          </g>
        );
      })}
      <rect x={cx - l / 2} y={cy - g / 2} width={l} height={g} fill="var(--card)" />
      <text x={cx} y={cy - g / 2 - 4} textAnchor="middle" className={plots.mono} fill="var(--ink)">
        {gap > 0 ? print(gap, 'm', 2) : 'no gap'}
      </text>
      <text x={cx} y={14} textAnchor="middle" className={plots.label} fill={peak > material.maxFluxDensity ? 'var(--fail)' : 'var(--spruce)'}>
        {print(peak, 'T', 3)} at the worst corner, full at {print(material.maxFluxDensity, 'T', 2)}
      </text>
      <text x={cx} y={HEIGHT - 8} textAnchor="middle" className={plots.label} fill="var(--muted)">
        window {print(core.windowWidth, 'm', 2)} × {print(core.windowHeight, 'm', 2)}, {print(laid.fill, '%', 2)} copper
      </text>
    </svg>
  );
}
