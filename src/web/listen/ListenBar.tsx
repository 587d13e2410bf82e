import { Footprints, Play, Square, Volume2 } from "lucide-react";
import type { Damping } from "../../core/sound/score.ts";
import type { ListenControls } from "./use-listen.ts";

const DAMPING_WORDS: readonly { damping: Damping; says: string; title: string }[] = [
  { damping: "planned", says: "as planned", title: "Both hands damp as planned" },
  { damping: "none", says: "undamped", title: "Nobody damps: what would ring" },
  { damping: "fretting", says: "fretting", title: "Only the fretting hand damps" },
  { damping: "picking", says: "picking", title: "Only the picking hand damps" },
];

/** Listening: from the cursor, whole or one step, with the damping of both hands, one or none, all strings or one. */
export function ListenBar({
  listen,
  string,
  isEmpty,
  onListen,
  children,
}: {
  listen: ListenControls;
  string: number;
  isEmpty: boolean;
  onListen(stepOnly: boolean): void;
  children: React.ReactNode;
}) {
  const { state } = listen;
  const isOn = state.kind === "playing" || state.kind === "preparing";
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-2 border-b border-base-300 px-4 py-1.5" role="toolbar" aria-label="Listen">
      <div className="join">
        <button
          type="button"
          className="btn btn-sm join-item"
          disabled={isEmpty}
          onMouseDown={(event) => event.preventDefault()}
          onClick={() => onListen(false)}
          title={isOn ? "Stop (Space)" : "Listen from here (Space)"}
        >
          {isOn ? <Square size={16} aria-hidden /> : <Play size={16} aria-hidden />}
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
          <Footprints size={16} aria-hidden />
          step
        </button>
      </div>
      {/* biome-ignore lint/a11y/useSemanticElements: a fieldset cannot be laid out inside a toolbar line */}
      <div role="group" aria-label="Whose damping is heard" className="join">
        {DAMPING_WORDS.map(({ damping, says, title }) => (
          <button
            key={damping}
            type="button"
            className={`btn btn-sm join-item px-2.5 ${listen.damping === damping ? "btn-primary" : ""}`}
            aria-pressed={listen.damping === damping}
            title={title}
            onMouseDown={(event) => event.preventDefault()}
            onClick={() => listen.setDamping(damping)}
          >
            {says}
          </button>
        ))}
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
      <div className="join">
        <Toggle
          on={listen.loop}
          says="loop"
          title="Again and again: the selection, or from the cursor to the end"
          onToggle={() => listen.setLoop(!listen.loop)}
        />
        <Toggle on={listen.clicks} says="clicks" title="A bar to count in, then a click on every beat" onToggle={() => listen.setClicks(!listen.clicks)} />
      </div>
      <select
        className="select select-sm w-20 max-sm:hidden"
        aria-label="Speed"
        value={listen.speed}
        onChange={(event) => listen.setSpeed(Number(event.target.value))}
        title="Share of the written tempo"
      >
        {[1, 0.9, 0.8, 0.7, 0.6, 0.5, 0.4].map((speed) => (
          <option key={speed} value={speed}>
            {Math.round(speed * 100)}%
          </option>
        ))}
      </select>
      <label className="flex items-center gap-2">
        <Volume2 size={18} aria-label="Volume" />
        <input
          type="range"
          className="range range-xs w-16"
          min={0}
          max={1}
          step={0.05}
          value={listen.volume}
          onChange={(event) => listen.setVolume(Number(event.target.value))}
        />
      </label>
      <span role="status" data-testid="listen-state" className="quiet">
        {isEmpty ? "Nothing to hear yet." : wordsOf(listen)}
      </span>
      <div className="ml-auto flex items-center gap-2">{children}</div>
    </div>
  );
}

function Toggle({ on, says, title, onToggle }: { on: boolean; says: string; title: string; onToggle(): void }) {
  return (
    <button
      type="button"
      className={`btn btn-sm join-item px-2.5 ${on ? "btn-primary" : ""}`}
      aria-pressed={on}
      title={title}
      onMouseDown={(event) => event.preventDefault()}
      onClick={onToggle}
    >
      {says}
    </button>
  );
}

function wordsOf({ state }: ListenControls): string {
  switch (state.kind) {
    case "silent":
      return "";
    case "preparing":
      return "Making the sound …";
    case "playing":
      return "Sounding";
    case "suspended":
      return "The browser holds the sound back: press Listen once more.";
    case "no-audio":
      return state.says;
    case "failed":
      return `The sound could not be made: ${state.says}. Try again.`;
  }
}
