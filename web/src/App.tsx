import { lazy, Suspense, useEffect } from "react";
import { BrowserRouter, Route, Routes } from "react-router";
import { Message } from "./app/Message";
import { Shell } from "./app/Shell";
import { Toasts } from "./app/toasts";
import { HomePage } from "./home/HomePage";

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

export function App() {
  useEffect(() => {
    const timer = setTimeout(() => problemPage().catch(() => {}), soon); // it is fetched again when it is opened
    return () => clearTimeout(timer);
  }, []);
  return (
    <BrowserRouter>
      <Toasts>
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
      </Toasts>
    </BrowserRouter>
  );
}
