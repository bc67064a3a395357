import { lazy, Suspense, useEffect } from "react";
import { BrowserRouter, Route, Routes } from "react-router";
import { Message } from "./app/Message";
import { Shell } from "./app/Shell";
import { Toasts } from "./app/toasts";
import { HomePage } from "./home/HomePage";
import { Gate } from "./who/Gate";

const problemPage = () => import("./page/ProblemPage").then((module) => ({ default: module.ProblemPage }));
const ProblemPage = lazy(problemPage);
/** How long after the start the page is fetched that is opened next, most likely, in milliseconds. */
const soon = 800;

const EditPage = lazy(() => import("./edit/EditPage").then((module) => ({ default: module.EditPage })));

const DataListPage = lazy(() => import("./data/DataListPage").then((module) => ({ default: module.DataListPage })));
const DataPage = lazy(() => import("./data/DataPage").then((module) => ({ default: module.DataPage })));

const TablesPage = lazy(() => import("./tables/TablesPage").then((module) => ({ default: module.TablesPage })));

const ReportListPage = lazy(() =>
  import("./report/ReportListPage").then((module) => ({ default: module.ReportListPage })),
);
const ReportPage = lazy(() => import("./report/ReportPage").then((module) => ({ default: module.ReportPage })));

const ClassesPage = lazy(() => import("./classes/ClassesPage").then((module) => ({ default: module.ClassesPage })));
const ClassPage = lazy(() => import("./classes/ClassPage").then((module) => ({ default: module.ClassPage })));
const SetPage = lazy(() => import("./classes/SetPage").then((module) => ({ default: module.SetPage })));
const WorkPage = lazy(() => import("./classes/WorkPage").then((module) => ({ default: module.WorkPage })));
const SetTryPage = lazy(() => import("./classes/SetTryPage").then((module) => ({ default: module.SetTryPage })));
const WatchPage = lazy(() => import("./classes/WatchPage").then((module) => ({ default: module.WatchPage })));
const KeysPage = lazy(() => import("./classes/KeysPage").then((module) => ({ default: module.KeysPage })));
const AttemptPage = lazy(() => import("./classes/AttemptPage").then((module) => ({ default: module.AttemptPage })));

const SharedPage = lazy(() => import("./page/SharedPage").then((module) => ({ default: module.SharedPage })));
const SignInPage = lazy(() => import("./who/SignInPage").then((module) => ({ default: module.SignInPage })));
const SignOutPage = lazy(() => import("./who/SignOutPage").then((module) => ({ default: module.SignOutPage })));
const LinkPage = lazy(() => import("./who/LinkPage").then((module) => ({ default: module.LinkPage })));
const KeepPage = lazy(() => import("./who/KeepPage").then((module) => ({ default: module.KeepPage })));
const AccountPage = lazy(() => import("./who/AccountPage").then((module) => ({ default: module.AccountPage })));
const PeoplePage = lazy(() => import("./who/PeoplePage").then((module) => ({ default: module.PeoplePage })));

export function App() {
  useEffect(() => {
    const timer = setTimeout(() => problemPage().catch(() => {}), soon); // it is fetched again when it is opened
    return () => clearTimeout(timer);
  }, []);
  return (
    <BrowserRouter>
      <Toasts>
        <Gate>
          <Routes>
            <Route path="/" element={<HomePage />} />
            <Route
              path="/problems/:id"
              element={
                <Suspense fallback={<Shell title="Problem" />}>
                  <ProblemPage />
                </Suspense>
              }
            />
            <Route
              path="/problems/:id/edit"
              element={
                <Suspense fallback={<Shell title="Edit" />}>
                  <EditPage />
                </Suspense>
              }
            />
            {["/tables", "/tables/:table"].map((path) => (
              <Route
                key={path}
                path={path}
                element={
                  <Suspense fallback={<Shell title="Printed tables" />}>
                    <TablesPage />
                  </Suspense>
                }
              />
            ))}
            <Route
              path="/data"
              element={
                <Suspense fallback={<Shell title="Data" />}>
                  <DataListPage />
                </Suspense>
              }
            />
            <Route
              path="/data/:id"
              element={
                <Suspense fallback={<Shell title="Data" />}>
                  <DataPage />
                </Suspense>
              }
            />
            <Route
              path="/reports"
              element={
                <Suspense fallback={<Shell title="Reports" />}>
                  <ReportListPage />
                </Suspense>
              }
            />
            <Route
              path="/reports/:id"
              element={
                <Suspense fallback={<Shell title="Report" />}>
                  <ReportPage />
                </Suspense>
              }
            />
            {[
              { path: "/shared/:token", page: <SharedPage /> },
              { path: "/classes", page: <ClassesPage /> },
              { path: "/classes/:id", page: <ClassPage /> },
              { path: "/sets/:id", page: <WorkPage /> },
              { path: "/sets/:id/edit", page: <SetPage /> },
              { path: "/sets/:set/problems/:problem", page: <SetTryPage /> },
              { path: "/sets/:id/class", page: <WatchPage /> },
              { path: "/sets/:id/keys", page: <KeysPage /> },
              { path: "/sets/:id/attempts/:problem/:person", page: <AttemptPage /> },
              { path: "/sign-in", page: <SignInPage /> },
              { path: "/link/:token", page: <LinkPage /> },
              { path: "/sign-out", page: <SignOutPage /> },
              { path: "/keep", page: <KeepPage /> },
              { path: "/account", page: <AccountPage /> },
              { path: "/people", page: <PeoplePage /> },
            ].map(({ path, page }) => (
              <Route key={path} path={path} element={<Suspense fallback={null}>{page}</Suspense>} />
            ))}
            <Route
              path="*"
              element={
                <Shell title="Not found">
                  <Message
                    title="There is no such page."
                    says="The address may be mistyped, or the page may have moved."
                  />
                </Shell>
              }
            />
          </Routes>
        </Gate>
      </Toasts>
    </BrowserRouter>
  );
}
