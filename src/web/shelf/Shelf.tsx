import { useVirtualizer } from "@tanstack/react-virtual";
import { endOfDay, formatDistanceToNow } from "date-fns";
import { Archive, ClipboardPaste, CloudOff, Copy, Download, Hand, NotebookText, Plus, Send, Trash2, Users } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { useDispatch } from "react-redux";
import { Link, useNavigate } from "react-router";
import type { Gift, ListedPassage } from "../../api/wire.ts";
import { dueBy } from "../../core/practice/progress.ts";
import { limitsWords } from "../../core/words/limits.ts";
import { Trouble } from "../parts/Trouble.tsx";
import { Waiting } from "../parts/Waiting.tsx";
import {
  api,
  troubleOf,
  useBinMutation,
  useCreateMutation,
  useGiftsQuery,
  useLimitsQuery,
  useListQuery,
  useMeQuery,
  useNextQuery,
  useStandingsQuery,
  useSummaryQuery,
  useTeachingQuery,
} from "../store/api.ts";
import { dropDraft } from "../store/drafts.ts";
import { notify } from "../store/notices-slice.ts";
import { canPin, freshen, pin, unpin, usePins } from "../store/pins.ts";
import type { Dispatch } from "../store/root.ts";
import { BackupDialog } from "./BackupDialog.tsx";
import { Bin } from "./Bin.tsx";
import { ExportDialog } from "./ExportDialog.tsx";
import { GiveDialog } from "./GiveDialog.tsx";
import { ImportDialog, type ImportSource } from "./ImportDialog.tsx";
import { Miniature, SmallHands } from "./Miniature.tsx";
import { NewPassage } from "./NewPassage.tsx";

const KIND_NAMES = { "electric-guitar": "electric", "acoustic-guitar": "steel-string", "nylon-guitar": "nylon-string", "electric-bass": "bass" } as const;

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
      {open === "new" && <NewPassage onClose={() => setOpen(null)} />}
      {open === "import" && <ImportDialog initial={dropped} onClose={() => setOpen(null)} />}
      {open === "bin" && <Bin onClose={() => setOpen(null)} />}
      {open === "backup" && <BackupDialog onClose={() => setOpen(null)} />}
      {given && <GiveDialog passage={given} onClose={() => setGiven(null)} />}
      {saved && <ExportDialog passages={saved} onClose={() => setSaved(null)} />}
    </div>
  );
}

/** Keeps passages in this browser for when the server is away, or no longer. */
function Keep({ passages }: { passages: readonly ListedPassage[] }) {
  const kept = usePins();
  const dispatch = useDispatch<Dispatch>();
  const [isBusy, setBusy] = useState(false);
  const missing = passages.filter(({ id, fault }) => kept[id] === undefined && fault === undefined);
  if (missing.length === 0)
    return (
      <button type="button" className="btn btn-sm" onClick={() => unpin(passages.map(({ id }) => id))}>
        <CloudOff size={16} aria-hidden /> Keep {passages.length} here no longer
      </button>
    );
  const keep = async () => {
    setBusy(true);
    const failed = await dispatch(pin(missing));
    setBusy(false);
    const had = missing.length - failed;
    dispatch(
      notify({
        says:
          failed === 0
            ? `Kept in this browser: ${had} passage${had === 1 ? "" : "s"}, for when the server is away.`
            : `${failed} could not be fetched. Try again.`,
      }),
    );
  };
  return (
    <button type="button" className="btn btn-sm" disabled={isBusy} onClick={() => void keep()} title="They open when the server is away">
      <CloudOff size={16} aria-hidden /> {isBusy ? "Fetching …" : `Keep ${missing.length} in this browser`}
    </button>
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

/** The end of today. */
function useTonight(): Date {
  return useMemo(() => endOfDay(new Date()), []);
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

const ROW_HEIGHT = 112;

/** Only the rows in view are there, so a thousand passages scroll as one does, and only what is seen is planned. */
function Rows({
  passages,
  chosen,
  ...row
}: { passages: readonly ListedPassage[]; chosen: ReadonlySet<string> } & Pick<RowProps, "onChoose" | "onSave" | "onGive" | "gifts">) {
  const list = useRef<HTMLUListElement>(null);
  const virtual = useVirtualizer({
    count: passages.length,
    estimateSize: () => ROW_HEIGHT,
    getScrollElement: () => list.current?.closest("main") ?? null,
    getItemKey: (index) => passages[index]!.id,
    overscan: 4,
    scrollMargin: list.current?.offsetTop ?? 0,
  });
  return (
    <ul ref={list} className="relative divide-y divide-base-300" style={{ height: virtual.getTotalSize() }}>
      {virtual.getVirtualItems().map((item) => (
        <li
          key={item.key}
          ref={virtual.measureElement}
          data-index={item.index}
          className="absolute top-0 left-0 w-full"
          style={{ transform: `translateY(${item.start - virtual.options.scrollMargin}px)` }}
        >
          <PassageRow passage={passages[item.index]!} isChosen={chosen.has(passages[item.index]!.id)} {...row} />
        </li>
      ))}
    </ul>
  );
}

interface RowProps {
  passage: ListedPassage;
  isChosen: boolean;
  onChoose(id: string): void;
  onSave(passage: ListedPassage): void;
  /** Null where there is nobody to give anything to. */
  onGive: ((passage: ListedPassage) => void) | null;
  /** What teachers gave. */
  gifts: readonly Gift[];
}

function PassageRow({ passage, isChosen, onChoose, onSave, onGive, gifts }: RowProps) {
  const gift = gifts.find((one) => one.passage === passage.id);
  const asked = { id: passage.id, version: passage.version };
  const { data: summary, error } = useSummaryQuery(asked, { skip: passage.fault !== undefined });
  // One after the other: what is seen first is planned first.
  const { data: limits } = useLimitsQuery(asked, { skip: !summary });
  const tonight = useTonight();
  const { data: next } = useNextQuery({ ...asked, by: tonight.toISOString() }, { skip: !limits });
  const isKept = usePins()[passage.id] !== undefined;
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
    <div className="grid grid-cols-[auto_1fr_auto] items-center gap-x-4 gap-y-2 py-4 md:grid-cols-[auto_minmax(17rem,1.3fr)_minmax(14rem,2fr)_11rem_auto]">
      <input
        type="checkbox"
        className="checkbox checkbox-sm"
        aria-label={`Choose ${passage.title}`}
        title="Choose, to keep several in this browser, or to save them as files"
        checked={isChosen}
        onChange={() => onChoose(passage.id)}
      />
      <div className="min-w-0 max-md:col-span-2">
        <Link className="text-xl font-bold underline-offset-4 hover:underline" to={`/bench/${passage.id}`}>
          {passage.title}
        </Link>
        <p className="quiet" hidden={passage.fault !== undefined}>
          {passage.strings}-string {KIND_NAMES[passage.kind]}, {passage.bars} bar{passage.bars === 1 ? "" : "s"}
          {passage.tags.length > 0 && ` · ${passage.tags.join(", ")}`}
        </p>
        <p className="quiet text-sm">
          {gift && `from ${gift.by}, `}changed {formatDistanceToNow(new Date(passage.updatedAt), { addSuffix: true })}
          {isKept && ", kept in this browser"}
        </p>
        {gift?.isOffered && <p className="text-sm font-bold">{gift.by} has a newer version</p>}
      </div>
      <Link to={`/bench/${passage.id}`} tabIndex={-1} aria-hidden className="col-span-3 md:col-span-1">
        {passage.fault !== undefined ? (
          <span className="block" />
        ) : summary ? (
          <span className="flex items-center gap-4">
            {summary.hands && <SmallHands hands={summary.hands} />}
            <Miniature summary={summary} strings={passage.strings} />
          </span>
        ) : (
          <div className="h-16 w-full motion-safe:animate-pulse rounded bg-base-200" />
        )}
      </Link>
      <div className="max-md:col-span-2">
        {passage.fault === undefined ? (
          <StrayCount summary={summary} failed={Boolean(error)} />
        ) : (
          <p className="font-bold">Cannot be read. A backup may have it whole.</p>
        )}
        <p className="quiet" hidden={passage.fault !== undefined}>
          {limits ? limitsWords(limits) : `${passage.tempo} bpm`}
          {passage.goalTempo && `, goal ${passage.goalTempo}`}
        </p>
        {next && (
          <p className="text-sm">
            <Link className="link" to={`/drills/${passage.id}`}>
              Next: {next.title}, from {next.tempo}
            </Link>
          </p>
        )}
      </div>
      <div className="flex gap-1">
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          onClick={() => onSave(passage)}
          aria-label={`Save ${passage.title} as a file`}
          title="Save as a file"
        >
          <Download size={18} aria-hidden />
        </button>
        {onGive && (
          <button
            type="button"
            className="btn btn-ghost btn-sm btn-square"
            disabled={passage.fault !== undefined}
            onClick={() => onGive(passage)}
            aria-label={`Give ${passage.title}`}
            title="Give to students, or by a link"
          >
            <Send size={18} aria-hidden />
          </button>
        )}
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
    </div>
  );
}

function StrayCount({ summary, failed }: { summary: { strays: number; issues: number } | undefined; failed: boolean }) {
  if (failed) return <p>The plan failed</p>;
  if (!summary) return <p className="quiet">planning …</p>;
  return (
    <>
      {summary.strays > 0 ? (
        <p className="font-bold" style={{ color: "var(--stray)" }}>
          {summary.strays} stray ring{summary.strays === 1 ? "" : "s"}
        </p>
      ) : (
        <p className="font-bold">Nothing rings astray</p>
      )}
      {summary.issues > 0 && <p>{summary.issues} not playable</p>}
    </>
  );
}
