import Router from '@koa/router';

/** A router that takes addresses as they are written: another case, or a slash more, is another address. */
export const exactRouter = (prefix = ''): Router =>
  new Router({ ...(prefix === '' ? {} : { prefix }), sensitive: true, strict: true });
