import { createBrowserRouter } from 'react-router';
import { SignedIn } from './frame/SignedIn';
import { Waiting } from './ui/Waiting';
import { Lost } from './ui/Lost';

/** The places of the application, each loaded when it is first gone to. */
export const router = createBrowserRouter([
  {
    HydrateFallback: Waiting,
    ErrorBoundary: Lost,
    children: [
      {
        path: 'sign-in',
        lazy: async () => ({ Component: (await import('./signIn/SignInPage')).SignInPage }),
      },
      {
        Component: SignedIn,
        children: [
          {
            index: true,
            lazy: async () => ({
              Component: (await import('./workbooks/WorkbooksPage')).WorkbooksPage,
            }),
          },
          {
            path: 'bring-in',
            lazy: async () => ({ Component: (await import('./bringIn/BringInPage')).BringInPage }),
          },
          {
            path: 'workbooks/:workbookId',
            lazy: async () => ({
              Component: (await import('./workbooks/ContentsPage')).ContentsPage,
            }),
          },
          {
            path: 'workbooks/:workbookId/bring-in',
            lazy: async () => ({ Component: (await import('./bringIn/BringInPage')).BringInPage }),
          },
          {
            path: 'workbooks/:workbookId/history',
            lazy: async () => ({ Component: (await import('./history/HistoryPage')).HistoryPage }),
          },
          {
            path: 'workbooks/:workbookId/bin',
            lazy: async () => ({ Component: (await import('./history/BinPage')).BinPage }),
          },
          {
            path: 'workbooks/:workbookId/add-sheet',
            lazy: async () => ({
              Component: (await import('./workbooks/AddSheetPage')).AddSheetPage,
            }),
          },
          {
            path: 'workbooks/:workbookId/sheets/:sheetId',
            lazy: async () => ({ Component: (await import('./sheet/SheetPage')).SheetPage }),
          },
          {
            path: 'start',
            lazy: async () => ({ Component: (await import('./workbooks/StartPage')).StartPage }),
          },
          {
            path: 'workbooks/:workbookId/lay-out',
            lazy: async () => ({ Component: (await import('./compose/LayOutPage')).LayOutPage }),
          },
          {
            path: 'workbooks/:workbookId/forms/:formId/compose',
            lazy: async () => ({ Component: (await import('./compose/ComposePage')).ComposePage }),
          },
          {
            path: 'workbooks/:workbookId/forms/:formId',
            lazy: async () => ({ Component: (await import('./desk/DeskPage')).DeskPage }),
          },
        ],
      },
      { path: '*', Component: Lost },
    ],
  },
]);
