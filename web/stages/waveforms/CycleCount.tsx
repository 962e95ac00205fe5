import frame from '../../frame/frame.module.css';

const MOST_CYCLES = 5;

/** How many cycles are drawn. */
export const CycleCount = ({ cycles, onChange }: { cycles: number; onChange: (n: number) => void }) => (
  <select className={frame.select} aria-label="Cycles shown" value={cycles} onChange={(e) => onChange(Number(e.target.value))}>
    {Array.from({ length: MOST_CYCLES }, (_, i) => i + 1).map((n) => (
      <option key={n} value={n}>
        {n === 1 ? '1 cycle' : `${n} cycles`}
      </option>
    ))}
  </select>
);
