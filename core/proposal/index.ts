export * from './askedText';
export * from './newDesign';
export * from './proposal';
export * from './usual';
