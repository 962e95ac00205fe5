export * from './schema';
export * from './read';
export * from './edit';
export * from './fields';
export { checkDesign } from './check';
export { sizingInputOf } from './sizingInput';
export { BRANCHES, takesBranches, topologyOf } from './additions/branches';
export { canHangAcross } from './additions/across';
export { windingWires } from './windingWires';
