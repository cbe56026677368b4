/** Routes, and who may see them. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { Navigate, Route, Routes, useLocation } from "react-router";
import { isAsking } from "../device/answers";
import { answered, api, setCsrfToken } from "../device/client";
import { PlansPage } from "../stages/plans/PlansPage";
import { whoIsIn } from "../device/leaving";
import { begin as beginListening } from "../device/live";
import { atRest, everKept, rested } from "../device/opened";
import { Everywhere } from "./Everywhere";
import { SignIn } from "./SignIn";
import { WorkSheet } from "./WorkSheet";
import { fetched, later } from "../ui/later";
import { useSettings } from "../ui/settings";

// The run's script comes when the run is opened.
const TeamPage = later(async () => (await import("../stages/team/TeamPage")).TeamPage);
const JoinPage = later(async () => (await import("./JoinPage")).JoinPage);
const LookPage = later(async () => (await import("./LookPage")).LookPage);
const ReferencePage = later(async () => (await import("../stages/reference/ReferencePage")).ReferencePage);
const PracticePage = later(async () => (await import("../stages/practice/PracticePage")).PracticePage);
const ShelfPage = later(async () => (await import("../stages/shelf/ShelfPage")).ShelfPage);
const PullsPage = later(async () => (await import("../stages/shelf/PullsPage")).PullsPage);
const PackPage = later(async () => (await import("../stages/shelf/PackPage")).PackPage);
const HandoverPage = later(async () => (await import("../stages/debrief/HandoverPage")).HandoverPage);
const GearPage = later(async () => (await import("../stages/debrief/GearPage")).GearPage);
const DebriefPage = later(async () => (await import("../stages/debrief/DebriefPage")).DebriefPage);
const RunPage = later(async () => (await import("../stages/run/RunPage")).RunPage);

/** Nothing asked for at so many looks so far apart: whatever is seen first stands. */
const QUIET_LOOKS = 5;
const REST_MS = 500;

export function App() {
  const session = useQuery({
    queryKey: ["session"],
    queryFn: whoIsIn,
    staleTime: Infinity,
    retry: true,
    retryDelay: 2000,
  });
  const comesByLink = /^\/(join|look)\//.test(useLocation().pathname);
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
  const me = session.data?.username ?? "";
  const queries = useQueryClient();
  useEffect(() => {
    if (!me) return;
    const ends = [beginListening()];
    let over = false;
    // The device's store and its script come after the first view, or at once where something may wait in it.
    void everKept().then((kept) => kept && rested());
    let quiet = 0;
    const looks = window.setInterval(() => {
      quiet = isAsking() ? 0 : quiet + 1;
      if (quiet > QUIET_LOOKS) rested();
    }, REST_MS);
    void atRest
      .then(() => fetched(() => import("../device/delivery")))
      .then(({ deliver }) => {
        window.clearInterval(looks);
        if (!over) ends.push(deliver(me, () => void queries.invalidateQueries({ queryKey: ["session"] })));
      });
    return () => {
      over = true;
      window.clearInterval(looks);
      ends.forEach((end) => end());
    };
  }, [me, queries]);
  if (session.data) setCsrfToken(session.data.csrf_token);
  if (!session.data)
    return (
      <p className="p-8 text-answer">
        {session.isError || session.failureCount ? "The server can not be reached. Trying again." : "Opening."}
      </p>
    );
  if (comesByLink)
    return (
      <Routes>
        <Route path="/join/:token" element={<JoinPage />} />
        <Route path="/look/:token" element={<LookPage />} />
      </Routes>
    );
  if (!signedIn) return <SignIn caution={session.data.caution} />;
  if (!catalogue.data) return <p className="p-8 text-answer">Opening.</p>;
  const shared = { session: session.data, catalogue: catalogue.data.catalogue };
  return (
    <Everywhere me={me}>
      <Routes>
        <Route path="/team" element={<TeamPage session={session.data} />} />
        <Route path="/plans" element={<PlansPage {...shared} />} />
        <Route path="/reference/:knot?" element={<ReferencePage caution={session.data.caution} />} />
        <Route path="/practice/:view?" element={<PracticePage session={session.data} />} />
        <Route path="/shelf/:team?/:label?" element={<ShelfPage {...shared} />} />
        <Route path="/pulls/:team?" element={<PullsPage {...shared} />} />
        <Route path="/plans/:id/packing" element={<PackPage />} />
        <Route path="/plans/:id/run" element={<RunPage session={session.data} />} />
        <Route path="/plans/:id/debrief" element={<DebriefPage session={session.data} />} />
        <Route path="/plans/:id/gear" element={<GearPage />} />
        <Route path="/plans/:id/handover" element={<HandoverPage caution={session.data.caution} />} />
        <Route path="/plans/:id/:stage?" element={<WorkSheet {...shared} />} />
        <Route path="*" element={<Navigate to="/plans" replace />} />
      </Routes>
    </Everywhere>
  );
}
