export * from './live';
export * from './people';
export * from './messages';
export * from './campaigns';
export * from './mailboxes';
export * from './replies';
export * from './today';
export * from './simulator';
