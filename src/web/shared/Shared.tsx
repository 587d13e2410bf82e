import { format } from "date-fns";
import { Download, Play, Square } from "lucide-react";
import { useEffect } from "react";
import { useLocation } from "react-router";
import type { Passage } from "../../core/passage/schema.ts";
import { useListen } from "../listen/use-listen.ts";
import { download, fileName } from "../parts/download.ts";
import { Trouble } from "../parts/Trouble.tsx";
import { Waiting } from "../parts/Waiting.tsx";
import { Sheet } from "../sheet/Sheet.tsx";
import { troubleOf, useSharedQuery } from "../store/api.ts";

/** A passage that somebody made a link to: its sheet and its sound. The secret is what follows # in the address. */
export function Shared() {
  const secret = useLocation().hash.slice(1);
  const { data, error, refetch } = useSharedQuery(secret);
  const title = data?.passage.title;
  useEffect(() => {
    document.title = title ? `${title} · Rest Hand` : "Rest Hand";
  }, [title]);
  if (data) return <Reading passage={data.passage} by={data.by} until={data.expiresAt} />;
  if (error === undefined) return <Waiting says="Fetching the passage" />;
  return (
    <div className="mx-auto mt-16 max-w-2xl px-4 text-lg">
      <Trouble {...troubleOf(error)}>
        <button type="button" className="btn btn-sm mt-2" onClick={refetch}>
          Try again
        </button>
      </Trouble>
    </div>
  );
}

function Reading({ passage, by, until }: { passage: Passage; by: string; until: string }) {
  const listen = useListen(passage, 1);
  const isOn = listen.state.kind === "playing" || listen.state.kind === "preparing";
  return (
    <div className="flex h-full flex-col print:block print:h-auto">
      <div className="flex flex-wrap items-center gap-3 border-b border-base-300 px-5 py-2 print:hidden">
        <h1 className="text-lg font-bold">{passage.title}</h1>
        <p className="quiet mr-auto">
          from {by}, to be read until {format(until, "d MMMM")}
        </p>
        <button type="button" className="btn btn-sm" onClick={() => (isOn ? listen.stop() : listen.play(0, false))}>
          {isOn ? <Square size={16} aria-hidden /> : <Play size={16} aria-hidden />} {isOn ? "Stop" : "Listen"}
        </button>
        <button
          type="button"
          className="btn btn-sm"
          onClick={() => download(new Blob([JSON.stringify(passage)], { type: "application/json" }), `${fileName(passage.title)}.resthand.json`)}
        >
          <Download size={16} aria-hidden /> Save as a file
        </button>
      </div>
      <div className="min-h-0 flex-1">
        <Sheet passage={passage} />
      </div>
    </div>
  );
}
