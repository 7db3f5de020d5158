import type { Routes } from '@angular/router';
import { onlyFor, signedIn } from './session/guards';

const admin = onlyFor('admin');

/** Every page, loaded when it is opened. */
export const ROUTES: Routes = [
  {
    path: 'sign-in',
    title: 'Sign in · Relvik',
    loadComponent: () => import('./session/sign-in.page').then((m) => m.SignInPage),
  },
  { path: 'form/:slug', title: 'Relvik', loadComponent: () => import('./intake/form.page').then((m) => m.FormPage) },
  {
    path: '',
    canActivate: [signedIn],
    loadComponent: () => import('./frame/frame').then((m) => m.Frame),
    children: [
      {
        path: '',
        pathMatch: 'full',
        title: 'Watershed · Relvik',
        loadComponent: () => import('./home/home.page').then((m) => m.HomePage),
      },
      {
        path: 'leads',
        title: 'Leads · Relvik',
        loadComponent: () => import('./list/leads.page').then((m) => m.LeadsPage),
      },
      {
        path: 'leads/new',
        title: 'New lead · Relvik',
        loadComponent: () => import('./record/new-lead.page').then((m) => m.NewLeadPage),
      },
      {
        path: 'leads/:id',
        title: 'Lead · Relvik',
        loadComponent: () => import('./lead/lead.page').then((m) => m.LeadPage),
      },
      {
        path: 'tasks',
        title: 'Tasks · Relvik',
        loadComponent: () => import('./task/tasks.page').then((m) => m.TasksPage),
      },
      {
        path: 'to-decide',
        title: 'To decide · Relvik',
        loadComponent: () => import('./proposal/to-decide.page').then((m) => m.ToDecidePage),
      },
      {
        path: 'find',
        title: 'Find · Relvik',
        loadComponent: () => import('./kinds/find.page').then((m) => m.FindPage),
      },
      {
        path: 'contacts',
        title: 'Contacts · Relvik',
        data: { kind: 'contact' },
        loadComponent: () => import('./kinds/records.page').then((m) => m.RecordsPage),
      },
      {
        path: 'contacts/new',
        title: 'New contact · Relvik',
        data: { kind: 'contact' },
        loadComponent: () => import('./kinds/new-record.page').then((m) => m.NewRecordPage),
      },
      {
        path: 'contacts/:id',
        title: 'Contact · Relvik',
        data: { kind: 'contact' },
        loadComponent: () => import('./kinds/record.page').then((m) => m.RecordPage),
      },
      {
        path: 'companies',
        title: 'Companies · Relvik',
        data: { kind: 'company' },
        loadComponent: () => import('./kinds/records.page').then((m) => m.RecordsPage),
      },
      {
        path: 'companies/new',
        title: 'New company · Relvik',
        data: { kind: 'company' },
        loadComponent: () => import('./kinds/new-record.page').then((m) => m.NewRecordPage),
      },
      {
        path: 'companies/:id',
        title: 'Company · Relvik',
        data: { kind: 'company' },
        loadComponent: () => import('./kinds/record.page').then((m) => m.RecordPage),
      },
      {
        path: 'deals',
        title: 'Deals · Relvik',
        data: { kind: 'deal' },
        loadComponent: () => import('./kinds/records.page').then((m) => m.RecordsPage),
      },
      {
        path: 'deals/new',
        title: 'New deal · Relvik',
        data: { kind: 'deal' },
        loadComponent: () => import('./kinds/new-record.page').then((m) => m.NewRecordPage),
      },
      {
        path: 'deals/:id',
        title: 'Deal · Relvik',
        data: { kind: 'deal' },
        loadComponent: () => import('./kinds/record.page').then((m) => m.RecordPage),
      },
      {
        path: 'suggestions',
        title: 'Possible duplicates · Relvik',
        canActivate: [admin],
        loadComponent: () => import('./kinds/suggestions.page').then((m) => m.SuggestionsPage),
      },
      {
        path: 'bay',
        title: 'Bay · Relvik',
        canActivate: [onlyFor('admin', 'manager')],
        loadComponent: () => import('./bay/bay.page').then((m) => m.BayPage),
      },
      {
        path: 'fairness',
        title: 'Who got what · Relvik',
        canActivate: [onlyFor('admin', 'manager')],
        loadComponent: () => import('./fairness/fairness.page').then((m) => m.FairnessPage),
      },
      {
        path: 'week',
        title: 'Week of a team · Relvik',
        canActivate: [onlyFor('admin', 'manager')],
        loadComponent: () => import('./week/week.page').then((m) => m.WeekPage),
      },
      {
        path: 'people',
        title: 'People · Relvik',
        loadComponent: () => import('./people/people.page').then((m) => m.PeoplePage),
      },
      {
        path: 'intake',
        title: 'Intake · Relvik',
        canActivate: [admin],
        loadComponent: () => import('./intake/intake.page').then((m) => m.IntakePage),
      },
      {
        path: 'background',
        title: 'Background work · Relvik',
        canActivate: [admin],
        loadComponent: () => import('./background/background.page').then((m) => m.BackgroundPage),
      },
      {
        path: 'fields',
        title: 'Fields · Relvik',
        canActivate: [admin],
        loadComponent: () => import('./catalogue/fields.page').then((m) => m.FieldsPage),
      },
      {
        path: 'unjudged',
        title: 'Values that can’t be judged · Relvik',
        canActivate: [admin],
        loadComponent: () => import('./catalogue/unjudged.page').then((m) => m.UnjudgedPage),
      },
      {
        path: 'spellings',
        title: 'Spellings and regions · Relvik',
        canActivate: [admin],
        loadComponent: () => import('./catalogue/spellings.page').then((m) => m.SpellingsPage),
      },
      {
        path: 'score',
        title: 'Score · Relvik',
        canActivate: [admin],
        loadComponent: () => import('./score/score.page').then((m) => m.ScorePage),
      },
      {
        path: 'grade',
        title: 'Grade · Relvik',
        canActivate: [admin],
        loadComponent: () => import('./grade/grade.page').then((m) => m.GradePage),
      },
      {
        path: 'gates',
        title: 'Gates · Relvik',
        canActivate: [admin],
        loadComponent: () => import('./gate/gates.page').then((m) => m.GatesPage),
      },
      {
        path: 'territories',
        title: 'Territories · Relvik',
        canActivate: [admin],
        loadComponent: () => import('./territory/territories.page').then((m) => m.TerritoriesPage),
      },
      {
        path: 'routes',
        title: 'Routes · Relvik',
        canActivate: [admin],
        loadComponent: () => import('./route/routes.page').then((m) => m.RoutesPage),
      },
      {
        path: 'tracer',
        title: 'Tracer · Relvik',
        canActivate: [admin],
        loadComponent: () => import('./tracer/tracer.page').then((m) => m.TracerPage),
      },
      {
        path: 'charters',
        title: 'Charters · Relvik',
        canActivate: [admin],
        loadComponent: () => import('./charter/charters.page').then((m) => m.ChartersPage),
      },
      {
        path: 'enact',
        title: 'Enact · Relvik',
        canActivate: [admin],
        loadComponent: () => import('./enact/enact.page').then((m) => m.EnactPage),
      },
      {
        path: '**',
        title: 'Nothing here · Relvik',
        loadComponent: () => import('./frame/nothing-here.page').then((m) => m.NothingHerePage),
      },
    ],
  },
];
