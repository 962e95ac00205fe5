import type { ReactNode } from 'react';
import frame from '../frame/frame.module.css';

/** How far long work has come, and a way to stop it. */
export const UnderWay = ({ stop, children }: { stop: () => void; children: ReactNode }) => (
  <span role="status" className="muted">
    {children}{' '}
    <button type="button" className={frame.link} onClick={stop}>
      stop
    </button>
  </span>
);
