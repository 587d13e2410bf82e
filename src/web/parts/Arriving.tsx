import { Suspense } from "react";
import { ErrorBoundary } from "react-error-boundary";
import { useLocation } from "react-router";
import { Trouble } from "./Trouble.tsx";

/** A part of the page that comes when it is first needed: waiting until then, and told where it could not come or broke. */
export function Arriving({ waiting = null, children }: { waiting?: React.ReactNode; children: React.ReactNode }) {
  const { pathname } = useLocation();
  return (
    <ErrorBoundary FallbackComponent={Broken} resetKeys={[pathname]}>
      <Suspense fallback={waiting}>{children}</Suspense>
    </ErrorBoundary>
  );
}

function Broken() {
  return (
    <div className="mx-auto mt-16 max-w-2xl text-lg">
      <Trouble
        title="This part of the page did not come"
        says="The server may be away, or newer than this page. What you changed is kept: load the page again, and it goes on from there."
      >
        <button type="button" className="btn btn-sm mt-3" onClick={() => location.reload()}>
          Load again
        </button>
      </Trouble>
    </div>
  );
}
