export { averagedRun, type Averaged } from './run';
export { apartOf } from './compare';
