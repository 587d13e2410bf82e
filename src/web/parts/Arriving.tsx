import { Suspense } from "react";
import { ErrorBoundary } from "react-error-boundary";
import { useLocation } from "react-router";
import { Dialog } from "./Dialog.tsx";
import { Trouble } from "./Trouble.tsx";

const TITLE = "This part of the page did not come";

/** A part of the page that comes when it is first needed: waiting until then, and told where it could not come or broke. */
export function Arriving({ waiting, children }: { waiting: React.ReactNode; children: React.ReactNode }) {
  const { pathname } = useLocation();
  const broken = (
    <div className="mx-auto mt-16 max-w-2xl px-4 text-lg">
      <Trouble title={TITLE}>
        <LoadAgain />
      </Trouble>
    </div>
  );
  return (
    <ErrorBoundary fallback={broken} resetKeys={[pathname]}>
      <Suspense fallback={waiting}>{children}</Suspense>
    </ErrorBoundary>
  );
}

/** The same for a dialog: nothing is there until it has come, and it is a dialog that says where it could not. */
export function ArrivingDialog({ onClose, children }: { onClose(): void; children: React.ReactNode }) {
  return (
    <ErrorBoundary
      onReset={onClose}
      fallbackRender={({ resetErrorBoundary }) => (
        <Dialog title={TITLE} onClose={resetErrorBoundary}>
          <LoadAgain />
        </Dialog>
      )}
    >
      <Suspense fallback={null}>{children}</Suspense>
    </ErrorBoundary>
  );
}

function LoadAgain() {
  return (
    <>
      <p>The server may be away, or newer than this page. What you changed is kept: load the page again, and it goes on from there.</p>
      <button type="button" className="btn btn-sm mt-3" onClick={() => location.reload()}>
        Load again
      </button>
    </>
  );
}
