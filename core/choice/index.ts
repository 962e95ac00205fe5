export * from './choose';
export * from './frequencies';
export * from './hangBranch';
export * from './newDesign';
export * from './usual';
export * from './askedText';
export * from './proposal';
