/** Routes, and who may see them. */
import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useEffect } from "react";
import { Navigate, Route, Routes, useLocation } from "react-router";
import { answered, api, setCsrfToken } from "../api/client";
import { PlansPage } from "../stages/plans/PlansPage";
import { SignIn } from "./SignIn";
import { WorkSheet } from "./WorkSheet";
import { useSettings } from "./settings";

// The run's script comes when the run is opened.
const TeamPage = lazy(async () => ({ default: (await import("../stages/team/TeamPage")).TeamPage }));
const JoinPage = lazy(async () => ({ default: (await import("./JoinPage")).JoinPage }));
const RunPage = lazy(async () => ({ default: (await import("../stages/run/RunPage")).RunPage }));

export function App() {
  const session = useQuery({
    queryKey: ["session"],
    queryFn: async () => answered(await api.GET("/api/session")),
    staleTime: Infinity,
    retry: true,
    retryDelay: 2000,
  });
  const joining = useLocation().pathname.startsWith("/join/");
  const signedIn = Boolean(session.data?.username);
  const catalogue = useQuery({
    queryKey: ["catalogue"],
    queryFn: async () => answered(await api.GET("/api/catalogue")),
    enabled: signedIn,
    staleTime: Infinity,
  });
  const [, setSettings] = useSettings();
  useEffect(() => {
    if (catalogue.data) setSettings({ si: catalogue.data.units });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the setter is made anew on each render
  }, [catalogue.data]);
  if (session.data) setCsrfToken(session.data.csrf_token);
  if (!session.data)
    return (
      <p className="p-8 text-lg">
        {session.isError || session.failureCount ? "The server can not be reached. Trying again." : "Opening."}
      </p>
    );
  if (joining)
    return (
      <Suspense fallback={<p className="p-8 text-lg">Opening.</p>}>
        <Routes>
          <Route path="/join/:token" element={<JoinPage />} />
        </Routes>
      </Suspense>
    );
  if (!signedIn) return <SignIn caution={session.data.caution} />;
  if (!catalogue.data) return <p className="p-8 text-lg">Opening.</p>;
  const shared = { session: session.data, catalogue: catalogue.data.catalogue };
  return (
    <Routes>
      <Route
        path="/team"
        element={
          <Suspense fallback={<p className="p-8 text-lg">Opening.</p>}>
            <TeamPage session={session.data} />
          </Suspense>
        }
      />
      <Route path="/plans" element={<PlansPage {...shared} />} />
      <Route
        path="/plans/:id/run"
        element={
          <Suspense fallback={<p className="p-8 text-lg">Opening.</p>}>
            <RunPage session={session.data} />
          </Suspense>
        }
      />
      <Route path="/plans/:id/:stage?" element={<WorkSheet {...shared} />} />
      <Route path="*" element={<Navigate to="/plans" replace />} />
    </Routes>
  );
}
