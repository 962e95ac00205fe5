export { readSchedule, scheduleProblem, schedulesOf, usualSchedules, wavesOf } from './schedule';
export { MOST_SCHEDULES, WHAT, type Schedule, type ScheduleStep, type What } from '../surroundings/schedule';
export { beginRun, runSlice, type Running, type Slice, type Trace } from './run';
export { startUp, type StartUp } from './startUp';
export { joined, middleAt, readTrace, type Reading } from './read';
