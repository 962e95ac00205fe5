export { recorderOf, type Carried, type Recorder, type Events, type Points, type Watched } from './points';
export { recording, told, type Figures, type Moment, type Recording } from './recording';
export { answerOf, rhythmOf, type Answer } from './answer';
export { peaksOf, spectrumOf, type Spectrum } from './spectrum';
export { eventInWords, type Named } from './words';
