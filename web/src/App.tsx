import { BrowserRouter, Route, Routes } from "react-router";
import { useSession } from "./api/queries";
import { SitePage } from "./page/SitePage";
import { SignIn } from "./sites/SignIn";
import { SitesPage } from "./sites/SitesPage";

/** The whole application: sign in, the list of sites, one site. */
export function App() {
  const session = useSession();
  if (session.isPending) return null;
  if (!session.data?.user) return <SignIn failed={session.isError} />;
  return (
    <BrowserRouter>
      <Routes>
        <Route path="/sites/:siteId" element={<SitePage />} />
        <Route path="*" element={<SitesPage />} />
      </Routes>
    </BrowserRouter>
  );
}
