export { captureReader, LARGEST_CAPTURE, readCapture, type Capture, type CaptureColumn, type CaptureReader } from './read';
export { bestShift, deviationOf } from './compare';
export { carried } from './carry';
export { Captured, MOST_CAPTURES } from './types';
