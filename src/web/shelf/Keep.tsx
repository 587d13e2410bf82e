import { CloudOff } from "lucide-react";
import { useState } from "react";
import { useDispatch } from "react-redux";
import type { ListedPassage } from "../../api/wire.ts";
import { notify } from "../store/notices-slice.ts";
import { pin, unpin, usePins } from "../store/pins.ts";
import type { Dispatch } from "../store/root.ts";

/** Keeps passages in this browser for when the server is away, or no longer. */
export function Keep({ passages }: { passages: readonly ListedPassage[] }) {
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
