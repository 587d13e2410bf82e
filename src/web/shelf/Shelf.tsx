import { formatDistanceToNow } from "date-fns";
import { ClipboardPaste, Copy, Download, Plus, Trash2 } from "lucide-react";
import { useEffect, useState } from "react";
import { useDispatch } from "react-redux";
import { Link, useNavigate } from "react-router";
import { Trouble } from "../parts/Trouble.tsx";
import { Waiting } from "../parts/Waiting.tsx";
import { api, type ListedPassage, troubleOf, useBinMutation, useCreateMutation, useListQuery, useSummaryQuery } from "../store/api.ts";
import { dropDraft } from "../store/drafts.ts";
import { notify } from "../store/notices-slice.ts";
import type { Dispatch } from "../store/root.ts";
import { Bin } from "./Bin.tsx";
import { ImportDialog } from "./ImportDialog.tsx";
import { Miniature } from "./Miniature.tsx";
import { NewPassage } from "./NewPassage.tsx";

const KIND_NAMES = { "electric-guitar": "electric", "acoustic-guitar": "steel-string", "nylon-guitar": "nylon-string", "electric-bass": "bass" } as const;

/** All passages, each with its plan in small and what still rings. */
export function Shelf() {
  const { data, error, isLoading, refetch } = useListQuery("shelf");
  const [open, setOpen] = useState<"new" | "import" | "bin" | null>(null);
  const [dropped, setDropped] = useState<string | null>(null);
  useEffect(() => {
    document.title = "Shelf · Rest Hand";
  }, []);

  const takeText = (text: string) => {
    setDropped(text);
    setOpen("import");
  };

  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: dropping is an extra way in; the paste button is the accessible one
    <div
      className="mx-auto min-h-full max-w-6xl px-6 py-6"
      onDragOver={(event) => event.preventDefault()}
      onDrop={async (event) => {
        event.preventDefault();
        const file = event.dataTransfer.files[0];
        takeText(file ? await file.text() : event.dataTransfer.getData("text/plain"));
      }}
      onPaste={(event) => {
        if ((event.target as HTMLElement).closest("input,textarea,dialog")) return;
        const text = event.clipboardData.getData("text/plain");
        if (text.trim()) takeText(text);
      }}
    >
      <div className="mb-6 flex flex-wrap items-end gap-3">
        <h1 className="mr-auto text-3xl font-bold">Shelf</h1>
        <button type="button" className="btn btn-primary" onClick={() => setOpen("new")}>
          <Plus size={18} aria-hidden /> New passage
        </button>
        <button type="button" className="btn" onClick={() => takeText("")}>
          <ClipboardPaste size={18} aria-hidden /> Paste or open a tab
        </button>
        <button type="button" className="btn btn-ghost" onClick={() => setOpen("bin")}>
          <Trash2 size={18} aria-hidden /> Bin
        </button>
      </div>
      {isLoading && <Waiting says="Fetching your passages" />}
      {error && !data && (
        <Trouble {...troubleOf(error)}>
          <button type="button" className="btn btn-sm mt-2" onClick={refetch}>
            Try again
          </button>
        </Trouble>
      )}
      {data?.length === 0 && (
        <div className="mt-16 max-w-2xl text-xl">
          <p className="mb-3 font-bold">The shelf is empty.</p>
          <p>Start a new passage, or paste a tablature anywhere on this page. A file can also be dropped here.</p>
        </div>
      )}
      <ul className="divide-y divide-base-300">
        {data?.map((passage) => (
          <PassageRow key={passage.id} passage={passage} />
        ))}
      </ul>
      {open === "new" && <NewPassage onClose={() => setOpen(null)} />}
      {open === "import" && <ImportDialog initial={dropped ?? ""} onClose={() => setOpen(null)} />}
      {open === "bin" && <Bin onClose={() => setOpen(null)} />}
    </div>
  );
}

function PassageRow({ passage }: { passage: ListedPassage }) {
  const { data: summary, error } = useSummaryQuery({ id: passage.id, version: passage.version });
  const [bin] = useBinMutation();
  const [create] = useCreateMutation();
  const dispatch = useDispatch<Dispatch>();
  const navigate = useNavigate();

  const duplicate = async () => {
    const original = await dispatch(api.endpoints.passage.initiate(passage.id, { forceRefetch: true, subscribe: false }));
    const made = original.data ? await create({ ...original.data.passage, title: `${original.data.passage.title} (copy)` }) : original;
    dispatch(notify({ says: "error" in made && made.error ? troubleOf(made.error).title : `${passage.title} was duplicated.` }));
  };
  const remove = async () => {
    const done = await bin(passage.id);
    if (done.error) {
      dispatch(notify({ says: troubleOf(done.error).title }));
      return;
    }
    dropDraft(passage.id);
    dispatch(notify({ says: `${passage.title} is in the bin.`, restoreId: passage.id }));
  };

  return (
    <li className="grid grid-cols-[1fr_auto] items-center gap-x-6 gap-y-2 py-4 md:grid-cols-[minmax(14rem,1fr)_minmax(16rem,2fr)_11rem_auto]">
      <div className="min-w-0">
        <Link className="text-xl font-bold underline-offset-4 hover:underline" to={`/bench/${passage.id}`}>
          {passage.title}
        </Link>
        <p className="quiet">
          {passage.strings}-string {KIND_NAMES[passage.kind]}, {passage.bars} bar{passage.bars === 1 ? "" : "s"}
          {passage.tags.length > 0 && ` · ${passage.tags.join(", ")}`}
        </p>
        <p className="quiet text-sm">changed {formatDistanceToNow(new Date(passage.updatedAt), { addSuffix: true })}</p>
      </div>
      <Link to={`/bench/${passage.id}`} tabIndex={-1} aria-hidden className="col-span-2 md:col-span-1">
        {summary ? <Miniature summary={summary} strings={passage.strings} /> : <div className="h-16 w-full motion-safe:animate-pulse rounded bg-base-200" />}
      </Link>
      <div>
        <StrayCount summary={summary} failed={Boolean(error)} />
        <p className="quiet">
          {passage.tempo}
          {passage.goalTempo && ` of ${passage.goalTempo}`} bpm
        </p>
      </div>
      <div className="flex gap-1">
        <a
          className="btn btn-ghost btn-sm btn-square"
          href={`/api/export/${passage.id}`}
          download
          aria-label={`Save ${passage.title} as a file`}
          title="Save as a file"
        >
          <Download size={18} aria-hidden />
        </a>
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          onClick={() => void duplicate()}
          aria-label={`Duplicate ${passage.title}`}
          title="Duplicate"
        >
          <Copy size={18} aria-hidden />
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          onClick={() => void remove()}
          aria-label={`Put ${passage.title} in the bin`}
          title="Into the bin"
        >
          <Trash2 size={18} aria-hidden />
        </button>
        <button type="button" className="btn btn-sm md:hidden" onClick={() => navigate(`/bench/${passage.id}`)}>
          Open
        </button>
      </div>
    </li>
  );
}

function StrayCount({ summary, failed }: { summary: { strays: number; notPlanned: number; issues: number } | undefined; failed: boolean }) {
  if (failed) return <p>The plan failed</p>;
  if (!summary) return <p className="quiet">planning …</p>;
  return (
    <>
      {summary.strays > 0 ? (
        <p className="font-bold" style={{ color: "var(--stray)" }}>
          {summary.strays} stray ring{summary.strays === 1 ? "" : "s"}
        </p>
      ) : (
        summary.notPlanned === 0 && <p className="font-bold">Nothing rings astray</p>
      )}
      {summary.notPlanned > 0 && <p>{summary.notPlanned} not planned yet</p>}
      {summary.issues > summary.notPlanned && <p>{summary.issues - summary.notPlanned} not playable</p>}
    </>
  );
}
