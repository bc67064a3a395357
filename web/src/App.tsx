import { lazy, Suspense } from "react";
import { BrowserRouter, Route, Routes } from "react-router";
import { Message } from "./app/Message";
import { Shell } from "./app/Shell";
import { Toasts } from "./app/toasts";
import { HomePage } from "./home/HomePage";
import { ProblemPage } from "./page/ProblemPage";

const EditPage = lazy(() => import("./edit/EditPage").then((module) => ({ default: module.EditPage })));

const DataListPage = lazy(() => import("./data/DataListPage").then((module) => ({ default: module.DataListPage })));
const DataPage = lazy(() => import("./data/DataPage").then((module) => ({ default: module.DataPage })));

const TablesPage = lazy(() => import("./tables/TablesPage").then((module) => ({ default: module.TablesPage })));

const ReportListPage = lazy(() =>
  import("./report/ReportListPage").then((module) => ({ default: module.ReportListPage })),
);
const ReportPage = lazy(() => import("./report/ReportPage").then((module) => ({ default: module.ReportPage })));

export function App() {
  return (
    <BrowserRouter>
      <Toasts>
        <Routes>
          <Route path="/" element={<HomePage />} />
          <Route path="/problems/:id" element={<ProblemPage />} />
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
