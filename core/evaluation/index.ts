export * from './figures';
export { evaluate, evaluateStage, lightLoadOf, sizeDesign } from './evaluate';
export { billOf, changedBill, type Bill } from './bill';
export { DIVIDER, dividerWarning } from './divider';
export { placementPoint } from './compensator';
export { remedyOf } from './remedy';
export { compareMeasured, loopOnMeasured, type Compared } from './measured';
export { fitPlant, type Fit, type FittedValue } from './fit';
export { injectedLoop, loopResponse, type InjectedLoop } from './injected';
