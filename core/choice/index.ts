export * from './choose';
export * from './suggest';
export * from './candidates';
export * from './frequencies';
export * from './hangBranch';
export * from './mended';
export * from './secondStage';
export { wishesOf, type By } from './wishes';
export * from './anew';
