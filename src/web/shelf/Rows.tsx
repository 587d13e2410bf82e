import { useVirtualizer } from "@tanstack/react-virtual";
import { formatDistanceToNow } from "date-fns";
import { Copy, Download, type LucideIcon, Send, Trash2 } from "lucide-react";
import { useRef } from "react";
import { useDispatch } from "react-redux";
import { Link, useNavigate } from "react-router";
import type { Gift, ListedPassage } from "../../api/wire.ts";
import { limitsWords } from "../../core/words/limits.ts";
import { api, troubleOf, useBinMutation, useCreateMutation, useLimitsQuery, useNextQuery, useSummaryQuery } from "../store/api.ts";
import { dropDraft } from "../store/drafts.ts";
import { notify } from "../store/notices-slice.ts";
import { usePins } from "../store/pins.ts";
import type { Dispatch } from "../store/root.ts";
import { Miniature, SmallHands } from "./Miniature.tsx";
import { useTonight } from "./use-tonight.ts";

const KIND_NAMES = { "electric-guitar": "electric", "acoustic-guitar": "steel-string", "nylon-guitar": "nylon-string", "electric-bass": "bass" } as const;

const ROW_HEIGHT = 112;

/** Only the rows in view are there, so a thousand passages scroll as one does, and only what is seen is planned. */
export function Rows({
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
        <RowButton label={`Save ${passage.title} as a file`} title="Save as a file" icon={Download} onClick={() => onSave(passage)} />
        {onGive && (
          <RowButton
            label={`Give ${passage.title}`}
            title="Give to students, or by a link"
            icon={Send}
            disabled={passage.fault !== undefined}
            onClick={() => onGive(passage)}
          />
        )}
        <RowButton label={`Duplicate ${passage.title}`} title="Duplicate" icon={Copy} onClick={() => void duplicate()} />
        <RowButton label={`Put ${passage.title} in the bin`} title="Into the bin" icon={Trash2} onClick={() => void remove()} />
        <button type="button" className="btn btn-sm md:hidden" onClick={() => navigate(`/bench/${passage.id}`)}>
          Open
        </button>
      </div>
    </div>
  );
}

interface RowButtonProps {
  /** What it does, with the title of its passage. */
  label: string;
  title: string;
  icon: LucideIcon;
  disabled?: boolean;
  onClick(): void;
}

function RowButton({ label, title, icon: Icon, disabled = false, onClick }: RowButtonProps) {
  return (
    <button type="button" className="btn btn-ghost btn-sm btn-square" disabled={disabled} onClick={onClick} aria-label={label} title={title}>
      <Icon size={18} aria-hidden />
    </button>
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
