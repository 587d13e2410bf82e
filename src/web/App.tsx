import { CircleHelp, Moon, SlidersHorizontal, Sun } from "lucide-react";
import { lazy, useEffect, useState } from "react";
import { Link, Route, Routes } from "react-router";
import { Notices } from "./notices/Notices.tsx";
import { Arriving, ArrivingDialog } from "./parts/Arriving.tsx";
import { Waiting } from "./parts/Waiting.tsx";
import { VIEWS } from "./passage/views.ts";
import { WhenKnown } from "./people/WhenKnown.tsx";
import { Shelf } from "./shelf/Shelf.tsx";
import { useHealthQuery } from "./store/api.ts";

const Guide = lazy(() => import("./guide/Guide.tsx").then((m) => ({ default: m.Guide })));
const FreePractice = lazy(() => import("./drills/FreePractice.tsx").then((m) => ({ default: m.FreePractice })));
const Log = lazy(() => import("./log/Log.tsx").then((m) => ({ default: m.Log })));
const Setup = lazy(() => import("./setup/Setup.tsx").then((m) => ({ default: m.Setup })));
const Students = lazy(() => import("./teaching/Students.tsx").then((m) => ({ default: m.Students })));
const Shared = lazy(() => import("./shared/Shared.tsx").then((m) => ({ default: m.Shared })));
const PassageFrame = lazy(() => import("./passage/PassageFrame.tsx").then((m) => ({ default: m.PassageFrame })));

export function App() {
  const [guide, setGuide] = useState(false);
  return (
    <div className="flex h-full flex-col bg-base-100 text-base-content print:block print:h-auto print:bg-white">
      <header className="flex flex-wrap print:hidden items-center gap-x-4 gap-y-1 border-b border-base-300 px-4 py-1.5 max-2xl:gap-x-2">
        <Link to="/" className="shrink-0 text-lg font-bold tracking-tight">
          Rest Hand
        </Link>
        <div
          id="place-title"
          className="order-last flex w-full min-w-0 flex-wrap items-center gap-x-3 empty:hidden sm:order-none sm:flex! sm:w-auto sm:flex-1 sm:flex-nowrap"
        />
        <span className="flex-1 sm:hidden" />
        <Link to="/setup" className="btn btn-ghost btn-sm max-2xl:px-2" aria-label="Setup" title="Setup: instruments, players, appearance">
          <SlidersHorizontal size={18} aria-hidden /> <span className="hidden 2xl:inline">Setup</span>
        </Link>
        <ThemeButton />
        <button type="button" className="btn btn-ghost btn-sm max-2xl:px-2" onClick={() => setGuide(true)} aria-label="Signs and keys" title="Signs and keys">
          <CircleHelp size={18} aria-hidden /> <span className="hidden 2xl:inline">Signs and keys</span>
        </button>
      </header>
      <main className="min-h-0 flex-1 overflow-auto print:overflow-visible">
        <WhenReady>
          <Arriving waiting={<Waiting says="Opening" />}>
            <Routes>
              <Route path="shared" element={<Shared />} />
              <Route
                path="*"
                element={
                  <WhenKnown>
                    <OwnPlaces />
                  </WhenKnown>
                }
              />
            </Routes>
          </Arriving>
        </WhenReady>
      </main>
      <Notices />
      {guide && (
        <ArrivingDialog onClose={() => setGuide(false)}>
          <Guide onClose={() => setGuide(false)} />
        </ArrivingDialog>
      )}
    </div>
  );
}

/** What somebody has for themselves. */
function OwnPlaces() {
  return (
    <Routes>
      <Route index element={<Shelf />} />
      {VIEWS.map(({ path }) => (
        <Route key={path} path={`${path}/:id`} element={<PassageFrame path={path} />} />
      ))}
      <Route path="setup" element={<Setup />} />
      <Route path="practice" element={<FreePractice />} />
      <Route path="log" element={<Log />} />
      <Route path="students" element={<Students />} />
      <Route path="*" element={<Nowhere />} />
    </Routes>
  );
}

/** Holds the places back while the server opens the library; a server that is away holds nothing back. */
function WhenReady({ children }: { children: React.ReactNode }) {
  const [opened, setOpened] = useState(false);
  const { data, isError } = useHealthQuery(undefined, { pollingInterval: opened ? 0 : 700 });
  const ready = data?.status === "ready" || isError;
  useEffect(() => {
    if (ready) setOpened(true);
  }, [ready]);
  if (opened || ready) return children;
  if (data?.status === "failed")
    return (
      <div role="alert" className="mx-auto mt-24 max-w-xl text-xl">
        <h1 className="mb-2 text-2xl font-bold">The library did not open</h1>
        <p>{data.reason} The server's own window says more. Stop it, see to that, and start it again.</p>
      </div>
    );
  return <Waiting says="Opening your library. The first time takes some ten seconds." />;
}

function ThemeButton() {
  const [dark, setDark] = useState(
    () => (localStorage.getItem("rest-hand:theme") ?? (matchMedia("(prefers-color-scheme: dark)").matches ? "stage" : "stand")) === "stage",
  );
  useEffect(() => {
    document.documentElement.dataset.theme = dark ? "stage" : "stand";
    localStorage.setItem("rest-hand:theme", dark ? "stage" : "stand");
  }, [dark]);
  const label = dark ? "Stand light" : "Stage dark";
  return (
    <button type="button" className="btn btn-ghost btn-sm max-2xl:px-2" onClick={() => setDark(!dark)} aria-label={label} title={label}>
      {dark ? <Sun size={18} aria-hidden /> : <Moon size={18} aria-hidden />} <span className="hidden 2xl:inline">{label}</span>
    </button>
  );
}

function Nowhere() {
  return (
    <div className="mx-auto mt-24 max-w-xl text-xl">
      <h1 className="mb-2 text-2xl font-bold">There is nothing at this address</h1>
      <Link className="link" to="/">
        To the shelf
      </Link>
    </div>
  );
}
