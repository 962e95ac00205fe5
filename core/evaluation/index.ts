export * from './figures';
export { evaluate, evaluateStage, lightLoadOf, sizeDesign } from './evaluate';
export { DIVIDER, dividerWarning } from './divider';
export { placementPoint } from './loop';
export { remedyOf } from './remedy';
