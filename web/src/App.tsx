import { lazy, Suspense } from "react";
import { BrowserRouter, Route, Routes } from "react-router";
import { useSession } from "./api/queries";
import { SignIn } from "./sites/SignIn";
import { SitesPage } from "./sites/SitesPage";

// Most of the application, and all that draws: loaded once a site is opened, or while the list of sites is read.
const site = () => import("./page/SitePage");
const SitePage = lazy(() => site().then((module) => ({ default: module.SitePage })));

/** The whole application: sign in, the list of sites, one site. */
export function App() {
  const session = useSession();
  if (session.isPending) return null;
  if (!session.data?.user) return <SignIn failed={session.isError} />;
  void site();
  return (
    <BrowserRouter>
      <Suspense fallback={null}>
        <Routes>
          <Route path="/sites/:siteId" element={<SitePage />} />
          <Route path="*" element={<SitesPage />} />
        </Routes>
      </Suspense>
    </BrowserRouter>
  );
}
