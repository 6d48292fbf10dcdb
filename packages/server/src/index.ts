export * from './config';
export * from './store/database';
