export { inWords, MOST_AXES, readAxis, readValues, sweepable, sweepProblem, valuesOf, type Axis } from './axis';
export { limitOf, sweepOne, sweptAt, sweptFigures, type Swept, type SweptFigure, type SweptWave } from './sweep';
