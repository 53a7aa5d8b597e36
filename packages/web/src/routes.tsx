import { lazy, Suspense, type ComponentType, type ReactNode } from 'react';
import { Route, Routes, useLocation } from 'react-router';
import { loadPatterns, loadPhones } from './api/knowledge';
import { SignedIn } from './frame/SignedIn';
import { Lost, LostBoundary } from './ui/Lost';
import { Waiting } from './ui/Waiting';

/** A place that is loaded when it is first gone to. */
const place = <Name extends string>(
  load: () => Promise<Readonly<Record<Name, () => ReactNode>>>,
  name: Name,
): ComponentType =>
  lazy(async () => {
    const pages = await load();
    return { default: pages[name] as ComponentType };
  });

/** Where a column can be made one of phones, or what more is loaded with the place. */
function withPhones<Page>(
  load: () => Promise<Page>,
  ...also: readonly (() => Promise<void>)[]
): () => Promise<Page> {
  return async () => {
    const [page] = await Promise.all([load(), loadPhones(), ...also.map((each) => each())]);
    return page;
  };
}

const SignInPage = place(() => import('./signIn/SignInPage'), 'SignInPage');
const WorkbooksPage = place(() => import('./workbooks/WorkbooksPage'), 'WorkbooksPage');
const BringInPage = place(
  withPhones(() => import('./bringIn/BringInPage')),
  'BringInPage',
);
const ContentsPage = place(() => import('./workbooks/ContentsPage'), 'ContentsPage');
const HistoryPage = place(() => import('./history/HistoryPage'), 'HistoryPage');
const BinPage = place(() => import('./history/BinPage'), 'BinPage');
const ListsPage = place(() => import('./lists/ListsPage'), 'ListsPage');
const ListPage = place(() => import('./lists/ListPage'), 'ListPage');
const ValuesPage = place(() => import('./lists/ValuesPage'), 'ValuesPage');
const OutboxPage = place(() => import('./lists/OutboxPage'), 'OutboxPage');
const AddSheetPage = place(() => import('./workbooks/AddSheetPage'), 'AddSheetPage');
const SheetPage = place(
  withPhones(() => import('./sheet/SheetPage')),
  'SheetPage',
);
const SettingsPage = place(() => import('./workbooks/SettingsPage'), 'SettingsPage');
const StartPage = place(() => import('./workbooks/StartPage'), 'StartPage');
const LayOutPage = place(() => import('./compose/LayOutPage'), 'LayOutPage');
const ComposePage = place(
  // Lines of an outline may bring rules with patterns.
  withPhones(() => import('./compose/ComposePage'), loadPatterns),
  'ComposePage',
);
const DeskPage = place(() => import('./desk/DeskPage'), 'DeskPage');

/** The places of the application, each under its address. */
export function Places() {
  const { pathname } = useLocation();
  return (
    <LostBoundary at={pathname}>
      <Suspense fallback={<Waiting />}>
        <Routes>
          <Route path="sign-in" Component={SignInPage} />
          <Route Component={SignedIn}>
            <Route index Component={WorkbooksPage} />
            <Route path="start" Component={StartPage} />
            <Route path="bring-in" Component={BringInPage} />
            <Route path="workbooks/:workbookId">
              <Route index Component={ContentsPage} />
              <Route path="bring-in" Component={BringInPage} />

              <Route path="lists" Component={ListsPage} />
              <Route path="lists/:sheetId/:columnId" Component={ListPage} />
              <Route path="values/:sheetId/:columnId" Component={ValuesPage} />
              <Route path="outbox" Component={OutboxPage} />
              <Route path="history" Component={HistoryPage} />
              <Route path="bin" Component={BinPage} />
              <Route path="settings" Component={SettingsPage} />
              <Route path="add-sheet" Component={AddSheetPage} />
              <Route path="sheets/:sheetId" Component={SheetPage} />
              <Route path="lay-out" Component={LayOutPage} />
              <Route path="forms/:formId/compose" Component={ComposePage} />
              <Route path="forms/:formId" Component={DeskPage} />
            </Route>
          </Route>
          <Route path="*" Component={Lost} />
        </Routes>
      </Suspense>
    </LostBoundary>
  );
}
