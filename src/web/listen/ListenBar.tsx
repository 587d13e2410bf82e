import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { ChevronDown, Download, Footprints, Play, Square, Volume2 } from "lucide-react";
import { memo, useState } from "react";
import type { Passage } from "../../core/passage/schema.ts";
import { ToolButton } from "../parts/ToolButton.tsx";
import { DAMPING_WORDS } from "./damping-words.ts";
import { SaveSound } from "./SaveSound.tsx";
import { soundWords } from "./sound-words.ts";
import type { ListenControls } from "./use-listen.ts";

// The same signs at every drawing, so that they are not drawn again at every key.
const STOP = <Square size={16} aria-hidden />;
const PLAY = <Play size={16} aria-hidden />;
const STEP = <Footprints size={16} aria-hidden />;

/** Listening: from the cursor, whole or one step, with the damping of both hands, one or none, all strings or one. */
export function ListenBar({
  passage,
  listen,
  string,
  isEmpty,
  onListen,
  children,
}: {
  passage: Passage;
  listen: ListenControls;
  string: number;
  isEmpty: boolean;
  onListen(stepOnly: boolean): void;
  children: React.ReactNode;
}) {
  const { state } = listen;
  const [saving, setSaving] = useState(false);
  const isOn = state.kind === "playing" || state.kind === "preparing";
  return (
    <div className="flex flex-wrap items-center gap-x-2 gap-y-2 border-b border-base-300 px-4 py-1.5" role="toolbar" aria-label="Listen">
      <div className="join">
        <button
          type="button"
          className="btn btn-sm join-item"
          disabled={isEmpty}
          onMouseDown={(event) => event.preventDefault()}
          onClick={() => onListen(false)}
          title={isOn ? "Stop (Space)" : "Listen from here (Space)"}
        >
          {isOn ? STOP : PLAY}
          {isOn ? "Stop" : "Listen"}
        </button>
        <button
          type="button"
          className="btn btn-sm join-item"
          disabled={isEmpty}
          onMouseDown={(event) => event.preventDefault()}
          onClick={() => onListen(true)}
          aria-label="this step"
          title="Hear this step alone (Shift Space)"
        >
          {STEP}
          step
        </button>
      </div>
      <button
        type="button"
        className={`btn btn-sm ${listen.alone ? "btn-primary" : ""}`}
        aria-pressed={listen.alone}
        aria-label={`string ${string} alone`}
        title="Hear the string at the cursor by itself"
        onMouseDown={(event) => event.preventDefault()}
        onClick={() => listen.setAlone(!listen.alone)}
      >
        string {string}
      </button>
      <Practice listen={listen} onSave={isEmpty ? null : () => setSaving(true)} />
      {saving && <SaveSound passage={passage} damping={listen.damping} string={listen.alone ? string : null} onClose={() => setSaving(false)} />}
      {/* biome-ignore lint/a11y/useSemanticElements: a fieldset cannot be laid out inside a toolbar line */}
      <div role="group" aria-label="Whose damping is heard" className="join max-sm:order-last">
        {DAMPING_WORDS.map(({ damping, says, title }) => (
          <ToolButton key={damping} label={says} title={title} pressed={listen.damping === damping} onClick={() => listen.setDamping(damping)}>
            {says}
          </ToolButton>
        ))}
      </div>
      <span role="status" data-testid="listen-state" className="quiet">
        {isEmpty ? "Nothing to hear yet." : listen.state.kind === "playing" ? "Sounding" : soundWords(listen.state, "Listen once more")}
      </span>
      <div className="ml-auto flex items-center gap-2">{children}</div>
    </div>
  );
}

const SPEEDS = [1, 0.9, 0.8, 0.7, 0.6, 0.5, 0.4];

/** How it is heard for practice; what differs from plain listening stands on the button. Drawn anew only when what it shows changes: it stands beside every keypress. */
const Practice = memo(
  PracticePopover,
  ({ listen: was, onSave: before }, { listen, onSave }) =>
    (before === null) === (onSave === null) && (["loop", "clicks", "speed", "volume"] as const).every((shown) => was[shown] === listen[shown]),
);

function PracticePopover({ listen, onSave }: { listen: ListenControls; onSave: (() => void) | null }) {
  const set = [listen.loop ? "loop" : "", listen.clicks ? "clicks" : "", listen.speed === 1 ? "" : `${Math.round(listen.speed * 100)}%`].filter(Boolean);
  return (
    <Popover>
      <PopoverButton className={`btn btn-sm px-2.5 ${set.length > 0 ? "btn-primary" : ""}`} title="Loop, clicks, speed and volume">
        <Volume2 size={18} aria-hidden /> <span className="max-sm:sr-only">{set.length > 0 ? set.join(", ") : "practice"}</span>
        <ChevronDown size={14} aria-hidden />
      </PopoverButton>
      <PopoverPanel anchor="bottom start" className="z-20 mt-1 w-80 space-y-4 rounded-lg border border-base-300 bg-base-100 p-4 shadow-lg">
        <Check
          on={listen.loop}
          says="loop"
          hint="Again and again: the selection, or from the cursor to the end"
          onToggle={() => listen.setLoop(!listen.loop)}
        />
        <Check on={listen.clicks} says="clicks" hint="A bar to count in, then a click on every beat" onToggle={() => listen.setClicks(!listen.clicks)} />
        <label className="flex items-center gap-3">
          <select className="select select-sm w-24" aria-label="Speed" value={listen.speed} onChange={(event) => listen.setSpeed(Number(event.target.value))}>
            {SPEEDS.map((speed) => (
              <option key={speed} value={speed}>
                {Math.round(speed * 100)}%
              </option>
            ))}
          </select>
          of the written tempo
        </label>
        <label className="flex items-center gap-3">
          <input
            type="range"
            className="range range-xs w-36"
            aria-label="Volume"
            min={0}
            max={1}
            step={0.05}
            value={listen.volume}
            onChange={(event) => listen.setVolume(Number(event.target.value))}
          />
          volume
        </label>
        <PopoverButton as="button" type="button" className="btn btn-sm" disabled={!onSave} onClick={() => onSave?.()}>
          <Download size={16} aria-hidden /> Save as a sound file
        </PopoverButton>
        <p className="quiet text-sm">Begin low, on headphones above all: loud sound over time harms hearing.</p>
      </PopoverPanel>
    </Popover>
  );
}

function Check({ on, says, hint, onToggle }: { on: boolean; says: string; hint: string; onToggle(): void }) {
  return (
    <label className="flex items-start gap-3">
      <input type="checkbox" className="checkbox checkbox-sm mt-0.5" checked={on} onChange={onToggle} aria-label={says} />
      <span>
        <b>{says}</b> <span className="quiet block text-sm">{hint}</span>
      </span>
    </label>
  );
}
