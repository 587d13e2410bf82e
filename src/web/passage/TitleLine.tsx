import { memo, useEffect, useState } from "react";
import { createPortal } from "react-dom";
import { useDispatch } from "react-redux";
import { Link, NavLink } from "react-router";
import { TypedField } from "../parts/TypedField.tsx";
import { edit } from "../store/editing.ts";
import type { Dispatch } from "../store/root.ts";
import { SaveMark } from "./SaveMark.tsx";
import { VIEWS } from "./views.ts";

/** The places of a passage, its title, what the view has to say, and whether it is saved: all in the page's head line. */
export const TitleLine = memo(function TitleLine({ id, title, onHead }: { id: string; title: string; onHead(place: HTMLElement | null): void }) {
  const dispatch = useDispatch<Dispatch>();
  return (
    <InHead>
      <nav aria-label="Places of this passage" className="order-first flex shrink-0 items-center gap-1 max-sm:-mx-1 max-sm:gap-0">
        <Link to="/" className="btn btn-ghost btn-sm px-2 max-2xl:px-1.5 max-sm:px-1">
          Shelf
        </Link>
        {VIEWS.map(({ path, title: place, key }) => (
          <NavLink
            key={path}
            to={`/${path}/${id}`}
            title={`${place} (Alt ${key.toUpperCase()})`}
            className={({ isActive }) => `btn btn-sm px-2 max-2xl:px-1.5 max-sm:px-1 ${isActive ? "btn-active" : "btn-ghost"}`}
          >
            {place}
          </NavLink>
        ))}
      </nav>
      <h1 className="min-w-20 flex-1">
        <TypedField
          className="input input-ghost w-full max-w-md px-1 text-lg font-bold"
          aria-label="Title"
          value={title}
          maxLength={200}
          fits={(typed) => typed !== ""}
          onTake={(typed) => dispatch(edit({ kind: "set-title", title: typed }))}
        />
      </h1>
      <div ref={onHead} className="contents" />
      <SaveMark />
    </InHead>
  );
});

function InHead({ children }: { children: React.ReactNode }) {
  const [place, setPlace] = useState<HTMLElement | null>(null);
  useEffect(() => setPlace(document.getElementById("place-title")), []);
  return place && createPortal(children, place);
}
