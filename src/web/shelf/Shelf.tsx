import { Archive, ClipboardPaste, Download, Hand, NotebookText, Plus, Trash2, Users } from "lucide-react";
import { lazy, useEffect, useMemo, useState } from "react";
import { useDispatch } from "react-redux";
import { Link } from "react-router";
import type { ListedPassage } from "../../api/wire.ts";
import { dueBy } from "../../core/practice/progress.ts";
import { ArrivingDialog } from "../parts/Arriving.tsx";
import { Trouble } from "../parts/Trouble.tsx";
import { Waiting } from "../parts/Waiting.tsx";
import { troubleOf, useGiftsQuery, useListQuery, useMeQuery, useStandingsQuery, useTeachingQuery } from "../store/api.ts";
import { notify } from "../store/notices-slice.ts";
import { canPin, freshen } from "../store/pins.ts";
import type { Dispatch } from "../store/root.ts";
import type { ImportSource } from "./ImportDialog.tsx";
import { Keep } from "./Keep.tsx";
import { Rows } from "./Rows.tsx";
import { useTonight } from "./use-tonight.ts";

const BackupDialog = lazy(() => import("./BackupDialog.tsx").then((m) => ({ default: m.BackupDialog })));
const Bin = lazy(() => import("./Bin.tsx").then((m) => ({ default: m.Bin })));
const ExportDialog = lazy(() => import("./ExportDialog.tsx").then((m) => ({ default: m.ExportDialog })));
const GiveDialog = lazy(() => import("./GiveDialog.tsx").then((m) => ({ default: m.GiveDialog })));
const ImportDialog = lazy(() => import("./ImportDialog.tsx").then((m) => ({ default: m.ImportDialog })));
const NewPassage = lazy(() => import("./NewPassage.tsx").then((m) => ({ default: m.NewPassage })));

/** All passages, each with its plan in small and what still rings. */
export function Shelf() {
  const { data, error, isLoading, refetch } = useListQuery("shelf");
  const [open, setOpen] = useState<"new" | "import" | "bin" | "backup" | null>(null);
  const [dropped, setDropped] = useState<ImportSource>({ name: null, bytes: null });
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [saved, setSaved] = useState<readonly ListedPassage[] | null>(null);
  const [given, setGiven] = useState<ListedPassage | null>(null);
  const { data: me } = useMeQuery();
  const hasAccount = Boolean(me?.person);
  const { data: gifts } = useGiftsQuery(undefined, { skip: !hasAccount });
  const { data: teaching } = useTeachingQuery(undefined, { skip: !hasAccount });
  const dispatch = useDispatch<Dispatch>();
  const [wanted, setWanted] = useState("");
  const [tag, setTag] = useState("");
  const [order, setOrder] = useState<Order>("changed");
  useEffect(() => {
    if (data && canPin()) void dispatch(freshen(data));
  }, [data, dispatch]);
  const found = useMemo(() => arranged(data ?? [], wanted, tag, order), [data, wanted, tag, order]);
  const tags = useMemo(() => [...new Set((data ?? []).flatMap((passage) => passage.tags))].sort((a, b) => a.localeCompare(b)), [data]);
  useEffect(() => {
    document.title = "Shelf · Rest Hand";
  }, []);

  const take = (bytes: Uint8Array | null, name: string | null = null) => {
    setDropped({ name, bytes });
    setOpen("import");
  };
  const takeText = (text: string) => take(new TextEncoder().encode(text));
  const choose = (id: string) => setChosen((before) => new Set(before.has(id) ? [...before].filter((other) => other !== id) : [...before, id]));
  // What is not found any more is not chosen any more.
  const taken = found.filter(({ id }) => chosen.has(id));

  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: dropping is an extra way in; the paste button is the accessible one
    <div
      className="mx-auto min-h-full max-w-6xl px-6 py-6"
      onDragOver={(event) => event.preventDefault()}
      onDrop={async (event) => {
        event.preventDefault();
        const [file, ...more] = event.dataTransfer.files;
        if (more.length > 0)
          dispatch(notify({ says: `${file!.name} is opened. Drop the other ${more.length === 1 ? "file" : `${more.length} files`} one at a time.` }));
        if (file) take(new Uint8Array(await file.arrayBuffer()), file.name);
        else takeText(event.dataTransfer.getData("text/plain"));
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
        <button type="button" className="btn" onClick={() => take(null)}>
          <ClipboardPaste size={18} aria-hidden /> Paste or open a tab or score
        </button>
        <Link to="/practice" className="btn btn-ghost">
          <Hand size={18} aria-hidden /> Practise a move
        </Link>
        <Link to="/log" className="btn btn-ghost">
          <NotebookText size={18} aria-hidden /> Log
        </Link>
        {teaching && teaching.students.length > 0 && (
          <Link to="/students" className="btn btn-ghost">
            <Users size={18} aria-hidden /> Students
          </Link>
        )}
        <button type="button" className="btn btn-ghost" onClick={() => setOpen("backup")}>
          <Archive size={18} aria-hidden /> Backup
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
          <p>Start a new passage, or paste a tablature anywhere on this page. A file (MusicXML, MIDI, text) can also be dropped here.</p>
        </div>
      )}
      {data && data.length > 0 && (
        <search className="mb-2 flex flex-wrap items-center gap-3">
          <input
            type="search"
            className="input w-64"
            placeholder="Search titles and tags"
            aria-label="Search your passages"
            value={wanted}
            onChange={(event) => setWanted(event.target.value)}
          />
          {tags.length > 0 && (
            <select className="select w-44" aria-label="Tag" value={tag} onChange={(event) => setTag(event.target.value)}>
              <option value="">any tag</option>
              {tags.map((name) => (
                <option key={name}>{name}</option>
              ))}
            </select>
          )}
          <select className="select w-52" aria-label="Order" value={order} onChange={(event) => setOrder(event.target.value as Order)}>
            <option value="changed">last changed first</option>
            <option value="opened">last opened first</option>
            <option value="title">by title</option>
          </select>
          <span className="quiet" role="status">
            {found.length === data.length ? `${data.length} passage${data.length === 1 ? "" : "s"}` : `${found.length} of ${data.length}`}
          </span>
          <span className="ml-auto flex items-center gap-2">
            {taken.length > 0 && (
              <button type="button" className="btn btn-ghost btn-sm" onClick={() => setChosen(new Set())}>
                choose none
              </button>
            )}
            {taken.length > 0 && canPin() && <Keep passages={taken} />}
            <button type="button" className="btn btn-sm" disabled={found.length === 0} onClick={() => setSaved(taken.length > 0 ? taken : found)}>
              <Download size={16} aria-hidden /> {taken.length > 0 ? `Save ${taken.length} as files` : "Save all as files"}
            </button>
          </span>
        </search>
      )}
      {data && data.length > 0 && found.length === 0 && <p className="mt-10 text-xl">No passage fits. Search for less, or take any tag.</p>}
      <DueLine />
      <Rows
        passages={found}
        chosen={chosen}
        onChoose={choose}
        onSave={(passage) => setSaved([passage])}
        onGive={hasAccount ? setGiven : null}
        gifts={gifts ?? []}
      />
      <ArrivingDialog
        onClose={() => {
          setOpen(null);
          setGiven(null);
          setSaved(null);
        }}
      >
        {open === "new" && <NewPassage onClose={() => setOpen(null)} />}
        {open === "import" && <ImportDialog initial={dropped} onClose={() => setOpen(null)} />}
        {open === "bin" && <Bin onClose={() => setOpen(null)} />}
        {open === "backup" && <BackupDialog onClose={() => setOpen(null)} />}
        {given && <GiveDialog passage={given} onClose={() => setGiven(null)} />}
        {saved && <ExportDialog passages={saved} onClose={() => setSaved(null)} />}
      </ArrivingDialog>
    </div>
  );
}

/** What is due today, in one line; nothing where nothing is. */
function DueLine() {
  const { data } = useStandingsQuery();
  const tonight = useTonight().getTime();
  const due = (data ?? [])
    .map((standing) => ({ ...standing, many: dueBy(standing.drills, tonight).length }))
    .filter(({ many, passage }) => many > 0 && passage);
  if (due.length === 0) return null;
  return (
    <p className="mb-2 text-lg" role="note" aria-label="Due today">
      <b>Due today:</b>{" "}
      {due.map(({ passage, title, many }, i) => (
        <span key={passage}>
          {i > 0 && ", "}
          <Link className="link" to={`/drills/${passage}`} aria-label={`Practise ${title}`}>
            {title}
          </Link>{" "}
          ({many} drill{many === 1 ? "" : "s"})
        </span>
      ))}
    </p>
  );
}

type Order = "changed" | "opened" | "title";

/** The passages that fit, in the order asked for. */
function arranged(all: readonly ListedPassage[], wanted: string, tag: string, order: Order): ListedPassage[] {
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
  const fits = ({ title, tags }: ListedPassage) => {
    const text = `${title} ${tags.join(" ")}`.toLowerCase();
    return words.every((word) => text.includes(word)) && (tag === "" || tags.includes(tag));
  };
  const found = all.filter(fits);
  if (order === "title") return found.sort((a, b) => a.title.localeCompare(b.title, undefined, { numeric: true }));
  const moment = (p: ListedPassage) => (order === "opened" ? (p.openedAt ?? "") : p.updatedAt);
  return found.sort((a, b) => moment(b).localeCompare(moment(a)));
}
