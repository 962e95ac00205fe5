export * from './schema';
export * from './read';
export * from './edit';
export * from './fields';
export * from './figures';
export { evaluate, sizeDesign } from './evaluate';
export { checkDesign } from './check';
export * from './choose';
export { placementPoint } from './loop';
