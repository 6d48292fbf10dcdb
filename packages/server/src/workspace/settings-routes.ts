import type Router from '@koa/router';
import { DATE_FORMS, DomainError, isZone } from '@baton/core';
import type { WorkspaceSettings, WorkspaceSettingsView } from '@baton/contract';
import Joi from 'joi';
import type { ServerParts } from '../http/context';
import { exactRouter } from '../http/exact-router';
import { parse } from '../http/validate';
import { checkRowsFolder } from '../campaigns/rows-duty';
import { zones } from '../time/zones';
import { wantFreshPlan } from '../planning/want-plan';
import { announce } from '../store/changes';
import { readClock, readWorkspace, updateWorkspace } from '../store/workspace-rows';
import { publicAddressOf, testPublicAddress } from './public-address';

const address = Joi.string().trim().allow('').max(500).label('the public address');
const settingsBody = Joi.object<WorkspaceSettings>({
  name: Joi.string().trim().min(1).max(120).required().label('the name'),
  postalAddress: Joi.string().trim().allow('').max(500).required().label('the postal address'),
  zone: Joi.string().trim().min(1).max(60).required().label('the time zone'),
  dateForm: Joi.string()
    .valid(...DATE_FORMS)
    .required()
    .label('the form of dates'),
  publicAddress: address.required(),
  rowsFolder: Joi.string().trim().allow('').max(500).default('').label('the folder'),
});
const testBody = Joi.object<{ publicAddress: string }>({ publicAddress: address.required() });

export function settingsRoutes(parts: ServerParts): Router {
  const { store, clock, config } = parts;
  const router = exactRouter();
  router.get('/settings', async (ctx) => {
    const { name, postalAddress, zone, dateForm, publicAddress, rowsFolder, rowsFound } = await readWorkspace(store.db);
    const publicPages = `http://${config.publicHost}:${config.publicPort}`;
    ctx.body = {
      ...{ name, postalAddress, zone, dateForm, publicAddress, publicPages, rowsFolder, rowsFound },
    } satisfies WorkspaceSettingsView;
  });
  router.put('/settings', async (ctx) => {
    const settings = parse(settingsBody, ctx.request.body);
    if (!isZone(settings.zone))
      throw new DomainError(
        'invalid',
        `There is no time zone “${settings.zone}”. Expected a name such as Europe/Lisbon.`,
      );
    const { simulated } = await readClock(store.db);
    settings.publicAddress = publicAddressOf(settings.publicAddress, simulated);
    if (settings.rowsFolder !== '') await checkRowsFolder(store.db, settings.rowsFolder);
    const nowMs = await clock.now();
    await store.db.transaction(async (tx) => {
      const before = await readWorkspace(tx);
      // A folder that is named now is written into when this day is over.
      const isNewFolder = before.rowsFolder !== settings.rowsFolder;
      const rowsDay = zones.get(settings.zone).toLocal(nowMs).day - 1;
      await updateWorkspace(tx, { ...settings, ...(isNewFolder ? { rowsDay, rowsFound: '', rowsFailed: false } : {}) });
      // Days begin elsewhere now.
      if (before.zone !== settings.zone) await wantFreshPlan(tx, nowMs);
      await announce(tx, 'today', 'campaigns', 'clock');
    });
    ctx.status = 204;
  });
  router.post('/settings/public-address-test', async (ctx) => {
    const { simulated } = await readClock(store.db);
    const address = publicAddressOf(parse(testBody, ctx.request.body).publicAddress, simulated);
    if (address === '') throw new DomainError('invalid', 'Enter the public address first.');
    ctx.body = await testPublicAddress(address, parts);
  });
  return router;
}
