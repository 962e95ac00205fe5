export { readSchedule, scheduleProblem, schedulesOf, usualSchedules, wavesOf } from './schedule';
export { HOW, MOST_PINNED, MOST_SCHEDULES, WHAT, type Failure, type Pinned, type Schedule, type ScheduleStep, type What } from '../surroundings/schedule';
export { beginRun, movesAt, recordStretch, SETTLED, stretchEnds, type Ending, type Moves, type Running, type Stretch } from './run';
export { recordBounded, recordRun, type Recorded } from './recorded';
export { pinnedAt, pinnedInWords, shareOf, type PinnedStanding } from './pinned';
export { harmonicsAt } from './harmonics';
export { startUp, type StartUp } from './startUp';
export { calledIn, MOST_TRACES, usualTraces, type Trace } from './traces';
export { FEEDBACK } from './failing';
