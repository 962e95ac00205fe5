export * from './choose';
export * from './frequencies';
export * from './hangBranch';
