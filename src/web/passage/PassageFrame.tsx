import { lazy, useEffect, useState } from "react";
import { useDispatch, useSelector } from "react-redux";
import { Link, useNavigate, useParams } from "react-router";
import type { Passage } from "../../core/passage/schema.ts";
import { Bench } from "../bench/Bench.tsx";
import { Arriving } from "../parts/Arriving.tsx";
import { HeadContext } from "../parts/InTitleLine.tsx";
import { Trouble } from "../parts/Trouble.tsx";
import { Waiting } from "../parts/Waiting.tsx";
import { useShownPassage } from "../planner/shown.ts";
import { troubleOf } from "../store/api.ts";
import { redo, undo } from "../store/editing.ts";
import type { Dispatch, RootState } from "../store/root.ts";
import { GiftBanner } from "./GiftBanner.tsx";
import { StaleBanner } from "./StaleBanner.tsx";
import { TitleLine } from "./TitleLine.tsx";
import { useOpened } from "./use-opened.ts";
import { VIEWS, type ViewPath } from "./views.ts";

const COMPONENTS: Readonly<Record<ViewPath, React.ComponentType<{ passage: Passage }>>> = {
  bench: Bench,
  writer: lazy(() => import("../writer/Writer.tsx").then((m) => ({ default: m.Writer }))),
  treatments: lazy(() => import("../treatments/Treatments.tsx").then((m) => ({ default: m.Treatments }))),
  ring: lazy(() => import("../ring/Ring.tsx").then((m) => ({ default: m.Ring }))),
  drills: lazy(() => import("../drills/Drills.tsx").then((m) => ({ default: m.Drills }))),
  takes: lazy(() => import("../takes/Takes.tsx").then((m) => ({ default: m.Takes }))),
  sheet: lazy(() => import("../sheet/Sheet.tsx").then((m) => ({ default: m.Sheet }))),
};

/** One passage, opened, in one of its places. Going from place to place keeps it open. */
export function PassageFrame({ path }: { path: ViewPath }) {
  const { id = "" } = useParams();
  const { error, isFetching, refetch } = useOpened(id);
  // Only what the frame shows: moving the cursor is no business of it.
  const openId = useSelector((root: RootState) => root.edit.id);
  const passage = useShownPassage();
  const navigate = useNavigate();
  const dispatch = useDispatch<Dispatch>();
  const [head, setHead] = useState<HTMLElement | null>(null);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      // Undo works in every place; a field that is typed in has its own.
      const isTyping = (event.target as Element).closest("input:not([type=checkbox]):not([type=radio]), textarea, select, dialog") !== null;
      if ((event.ctrlKey || event.metaKey) && !event.altKey && !event.defaultPrevented && !isTyping && ["z", "y"].includes(event.key.toLowerCase())) {
        event.preventDefault();
        dispatch(event.key.toLowerCase() === "y" || event.shiftKey ? redo() : undo());
        return;
      }
      const view = event.altKey && !event.ctrlKey && !event.metaKey && VIEWS.find(({ key }) => event.code === `Key${key.toUpperCase()}`);
      if (!view) return;
      event.preventDefault();
      navigate(`/${view.path}/${id}`);
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, [id, navigate, dispatch]);
  const title = passage?.title;
  useEffect(() => {
    if (title) document.title = `${title} · Rest Hand`;
  }, [title]);

  if (openId === id && passage) {
    const View = COMPONENTS[path];
    return (
      <HeadContext value={head}>
        <TitleLine id={id} title={passage.title} onHead={setHead} />
        <div className="flex h-full flex-col">
          <StaleBanner />
          <GiftBanner id={id} />
          <div className="min-h-0 flex-1">
            <Arriving waiting={<Waiting says="Opening" />}>
              <View passage={passage} />
            </Arriving>
          </div>
        </div>
      </HeadContext>
    );
  }
  if (error && !isFetching)
    return (
      <div className="mx-auto mt-16 max-w-2xl text-lg">
        <Trouble {...troubleOf(error)}>
          <div className="mt-3 flex gap-3">
            <button type="button" className="btn btn-sm" onClick={refetch}>
              Try again
            </button>
            <Link className="btn btn-sm btn-ghost" to="/">
              To the shelf
            </Link>
          </div>
        </Trouble>
      </div>
    );
  return <Waiting says="Fetching the passage" />;
}
