import { Suspense } from "react";
import { ErrorBoundary } from "react-error-boundary";
import { useLocation } from "react-router";
import { Dialog } from "./Dialog.tsx";
import { Trouble } from "./Trouble.tsx";

const TITLE = "This part of the page cannot be shown";

/** A part of the page that comes when it is first needed: waiting until then, and told where it could not come or broke. */
export function Arriving({ waiting, children }: { waiting: React.ReactNode; children: React.ReactNode }) {
  const { pathname } = useLocation();
  return (
    <ErrorBoundary
      resetKeys={[pathname]}
      fallbackRender={({ error }) => (
        <div className="mx-auto mt-16 max-w-2xl px-4 text-lg">
          <Trouble title={TITLE}>
            <LoadAgain after={error} />
          </Trouble>
        </div>
      )}
    >
      <Suspense fallback={waiting}>{children}</Suspense>
    </ErrorBoundary>
  );
}

/** The same for a dialog: nothing is there until it has come, and it is a dialog that says where it could not. */
export function ArrivingDialog({ onClose, children }: { onClose(): void; children: React.ReactNode }) {
  return (
    <ErrorBoundary
      onReset={onClose}
      fallbackRender={({ error, resetErrorBoundary }) => (
        <Dialog title={TITLE} onClose={resetErrorBoundary}>
          <LoadAgain after={error} />
        </Dialog>
      )}
    >
      <Suspense fallback={null}>{children}</Suspense>
    </ErrorBoundary>
  );
}

/** What came in the way is told as the browser tells it: no fault of ours hides behind a server that is away. */
function LoadAgain({ after }: { after: unknown }) {
  return (
    <>
      <p>
        It did not come, because the server is away or newer than this page, or it is at fault itself. What you changed is kept: load the page again, and it
        goes on from there.
      </p>
      <p className="quiet mt-2 break-words">The browser says: {after instanceof Error ? after.message : String(after)}</p>
      <button type="button" className="btn btn-sm mt-3" onClick={() => location.reload()}>
        Load again
      </button>
    </>
  );
}
