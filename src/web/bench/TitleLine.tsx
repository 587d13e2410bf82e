import { useEffect, useState } from "react";
import { createPortal } from "react-dom";
import { useDispatch } from "react-redux";
import { Link } from "react-router";
import type { Passage } from "../../core/passage/schema.ts";
import { edit } from "../store/edit-slice.ts";
import type { Dispatch } from "../store/root.ts";
import { SaveMark } from "./SaveMark.tsx";

/** Title, save state: they live in the page's head line. */
export function TitleLine({ passage, children }: { passage: Passage; children: React.ReactNode }) {
  const dispatch = useDispatch<Dispatch>();
  const [text, setText] = useState<string | null>(null);
  const [head, setHead] = useState<HTMLElement | null>(null);
  useEffect(() => setHead(document.getElementById("place-title")), []);
  if (!head) return null;
  return createPortal(
    <>
      <Link to="/" className="link shrink-0">
        Shelf
      </Link>
      <h1 className="min-w-28 flex-1">
        <input
          className="input input-ghost w-full max-w-md text-lg font-bold"
          aria-label="Title"
          value={text ?? passage.title}
          maxLength={200}
          onChange={(event) => setText(event.target.value)}
          onBlur={() => {
            if (text !== null && text !== passage.title) dispatch(edit({ kind: "set-title", title: text }));
            setText(null);
          }}
          onKeyDown={(event) => {
            if (event.key === "Enter") event.currentTarget.blur();
          }}
        />
      </h1>
      {children}
      <SaveMark />
    </>,
    head,
  );
}
