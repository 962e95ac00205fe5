export * from './schema';
export * from './read';
export * from './edit';
export * from './fields';
export { checkDesign } from './check';
export { forFigures, sameFigures } from './difference';
export { sizingInputOf } from './sizingInput';
export { topologyOf, withoutLineFilter } from './topologyOf';
export { windingWires } from './windingWires';
