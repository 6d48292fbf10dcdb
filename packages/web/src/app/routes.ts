import type { Routes, UrlMatchResult, UrlSegment } from '@angular/router';

/** One lazy screen each; `title` is what the top line and the tab say. */
export const routes: Routes = [
  { path: '', pathMatch: 'full', redirectTo: 'today' },
  { path: 'today', title: 'Today', loadComponent: () => import('./today/today').then((m) => m.Today) },
  { path: 'people', title: 'People', loadComponent: () => import('./people/list/people').then((m) => m.People) },
  {
    path: 'people/import',
    title: 'Import people',
    loadComponent: () => import('./people/import/import-page').then((m) => m.ImportPage),
  },
  {
    path: 'people/suppressions',
    title: 'Suppression list',
    loadComponent: () => import('./people/suppression/suppressions').then((m) => m.Suppressions),
  },
  {
    path: 'people/person/:contactId',
    title: 'Person',
    loadComponent: () => import('./people/person/person-page').then((m) => m.PersonPage),
  },
  {
    path: 'people/:listId',
    title: 'People',
    loadComponent: () => import('./people/list/people').then((m) => m.People),
  },
  { path: 'messages', title: 'Messages', loadComponent: () => import('./messages/messages').then((m) => m.Messages) },
  {
    path: 'messages/library',
    title: 'Files and pictures',
    loadComponent: () => import('./messages/library').then((m) => m.Library),
  },
  {
    path: 'messages/:messageId/lines/:listId',
    title: 'Personal lines',
    loadComponent: () => import('./messages/personal-lines').then((m) => m.PersonalLinesPage),
  },
  {
    path: 'messages/:messageId',
    title: 'Messages',
    loadComponent: () => import('./messages/messages').then((m) => m.Messages),
  },
  {
    path: 'campaigns',
    title: 'Campaigns',
    loadComponent: () => import('./campaigns/campaigns').then((m) => m.Campaigns),
  },
  {
    path: 'campaigns/:campaignId',
    title: 'Campaigns',
    loadComponent: () => import('./campaigns/brief').then((m) => m.Brief),
  },
  { path: 'results', title: 'Results', loadComponent: () => import('./results/results').then((m) => m.Results) },
  {
    path: 'results/:campaignId',
    title: 'Results',
    loadComponent: () => import('./results/campaign-results').then((m) => m.CampaignResultsPage),
  },
  {
    path: 'mailboxes',
    title: 'Mailboxes',
    loadComponent: () => import('./mailboxes/mailboxes').then((m) => m.Mailboxes),
  },
  {
    path: 'mailboxes/many',
    title: 'Connect many mailboxes',
    loadComponent: () => import('./mailboxes/connect-many').then((m) => m.ConnectMany),
  },
  {
    path: 'mailboxes/:mailboxId',
    title: 'Mailboxes',
    loadComponent: () => import('./mailboxes/mailbox-page').then((m) => m.MailboxPage),
  },
  // One route, so that what is tried and shown stays when a batch is opened beside it.
  { matcher: planOrBatch, title: 'Plan', loadComponent: () => import('./plan/plan').then((m) => m.PlanPage) },
  { path: 'replies', title: 'Replies', loadComponent: () => import('./replies/replies').then((m) => m.Replies) },
  {
    path: 'replies/:replyId',
    title: 'Replies',
    loadComponent: () => import('./replies/replies').then((m) => m.Replies),
  },
  { path: 'activity', title: 'Activity', loadComponent: () => import('./activity/activity').then((m) => m.Activity) },
  { path: 'settings', title: 'Settings', loadComponent: () => import('./settings/settings').then((m) => m.Settings) },
  {
    path: 'inboxes',
    title: 'Simulated inboxes',
    loadComponent: () => import('./inboxes/inboxes').then((m) => m.Inboxes),
  },
  { path: '**', redirectTo: 'today' },
];

/** `plan`, or `plan/:day/:mailbox`. */
function planOrBatch(segments: UrlSegment[]): UrlMatchResult | null {
  const [plan, day, mailbox] = segments;
  if (plan?.path !== 'plan') return null;
  if (segments.length === 1) return { consumed: segments };
  return segments.length === 3 && day && mailbox ? { consumed: segments, posParams: { day, mailbox } } : null;
}
