import type Router from '@koa/router';
import { exactRouter } from '../http/exact-router';
import { DomainError } from '@baton/core';
import Joi from 'joi';
import type { ServerParts } from '../http/context';
import { parse, parseId } from '../http/validate';
import { readUpload, uploadName } from '../people/import/read-upload';
import { readAsset } from '../store/messages/asset-rows';
import { deleteAsset, deleteLayout, keepAsset, keepLayout, viewAssets, viewLayouts } from './asset-service';
import { isPicture } from './file-type';

const layoutBody = Joi.object<{ name: string; layout: object }>({
  name: Joi.string().trim().min(1).max(120).required(),
  layout: Joi.object().unknown(true).required(),
});

/** Files that messages use, and layouts. */
export function assetRoutes(parts: ServerParts): Router {
  const { db } = parts.store;
  const router = exactRouter();
  router.get('/assets', async (ctx) => {
    ctx.body = await viewAssets(db);
  });
  router.post('/assets', async (ctx) => {
    ctx.body = { id: await keepAsset(parts, uploadName(ctx), await readUpload(ctx)) };
  });
  router.get('/assets/:id/content', async (ctx) => {
    const asset = await readAsset(db, parseId(ctx.params['id']));
    if (!asset) throw new DomainError('not_found', 'There is no such file.');
    // Pictures are shown; anything else is only ever saved, never opened in Baton's own name.
    ctx.type = isPicture(asset.type) ? asset.type : 'application/octet-stream';
    if (!isPicture(asset.type)) ctx.attachment(asset.name);
    ctx.set('X-Content-Type-Options', 'nosniff');
    ctx.set('Cache-Control', 'private, max-age=31536000, immutable');
    ctx.body = asset.bytes;
  });
  router.delete('/assets/:id', async (ctx) => {
    await deleteAsset(parts, parseId(ctx.params['id']));
    ctx.status = 204;
  });
  router.get('/layouts', async (ctx) => {
    ctx.body = await viewLayouts(db);
  });
  router.post('/layouts', async (ctx) => {
    const { name, layout } = parse(layoutBody, ctx.request.body);
    ctx.body = { id: await keepLayout(parts, name, layout) };
  });
  router.delete('/layouts/:id', async (ctx) => {
    await deleteLayout(parts, parseId(ctx.params['id']));
    ctx.status = 204;
  });
  return router;
}
