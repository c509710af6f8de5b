import { createBrowserRouter, redirect } from "react-router";
import { Frame } from "./frame/Frame";
import { NotHere } from "./frame/NotHere";

/** Pages are loaded when they are opened. */
export const router = createBrowserRouter([
  {
    element: <Frame />,
    errorElement: <NotHere />,
    children: [
      { path: "/", lazy: async () => ({ Component: (await import("./pages/StudiesPage")).StudiesPage }) },
      { path: "/studies", loader: () => redirect("/") },
      {
        path: "/studies/:study",
        lazy: async () => ({ Component: (await import("./pages/study/StudyPage")).StudyPage }),
      },
      {
        path: "/studies/:study/survey",
        lazy: async () => ({ Component: (await import("./pages/survey/SurveyPage")).SurveyPage }),
      },
      {
        path: "/studies/:study/live",
        lazy: async () => ({ Component: (await import("./pages/live/LivePage")).LivePage }),
      },
      {
        path: "/studies/:study/compare",
        lazy: async () => ({ Component: (await import("./pages/compare/ComparePage")).ComparePage }),
      },
      {
        path: "/jobs/:job/compare",
        lazy: async () => ({ Component: (await import("./pages/compare/CompareOutputPage")).CompareOutputPage }),
      },
      { path: "/scripts", lazy: async () => ({ Component: (await import("./pages/ScriptsPage")).ScriptsPage }) },
      {
        path: "/scripts/:script",
        lazy: async () => ({ Component: (await import("./pages/script/ScriptPage")).ScriptPage }),
      },
      {
        path: "/jobs/:job/since/:then",
        lazy: async () => ({ Component: (await import("./pages/since/SincePage")).SincePage }),
      },
      { path: "/jobs/:job", lazy: async () => ({ Component: (await import("./pages/job/JobPage")).JobPage }) },
      { path: "/jobs", lazy: async () => ({ Component: (await import("./pages/JobsPage")).JobsPage }) },
      { path: "/guide", lazy: async () => ({ Component: (await import("./pages/GuidePage")).GuidePage }) },
      {
        path: "/settings",
        lazy: async () => ({ Component: (await import("./pages/settings/SettingsPage")).SettingsPage }),
      },
      { path: "*", element: <NotHere /> },
    ],
  },
]);
