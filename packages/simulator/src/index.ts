export * from './provider';
