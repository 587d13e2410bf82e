import { useDispatch } from "react-redux";
import { notify } from "../store/notices-slice.ts";
import type { Dispatch } from "../store/root.ts";

/** An address that is shown this once, to be sent to somebody. */
export function CopyAddress({ address, says }: { address: string; says: string }) {
  const dispatch = useDispatch<Dispatch>();
  const copy = () =>
    navigator.clipboard.writeText(address).then(
      () => dispatch(notify({ says: "The address is copied." })),
      () => dispatch(notify({ says: "This browser does not copy. Mark the address and copy it by hand." })),
    );
  return (
    <div role="status" className="my-3 border-l-4 border-base-content py-1 pl-4">
      <p>{says}</p>
      <p className="font-mono break-all select-all">{address}</p>
      <button type="button" className="btn btn-sm mt-2" onClick={() => void copy()}>
        Copy the address
      </button>
    </div>
  );
}
