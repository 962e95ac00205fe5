export { readSchedule, scheduleProblem, usualSchedules, wavesOf, WHAT, type Schedule, type ScheduleStep } from './schedule';
export { beginRun, runSlice, type Running, type Slice, type Trace } from './run';
export { joined, readTrace, type Reading } from './read';
