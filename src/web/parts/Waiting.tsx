/** A calm waiting state that says what is awaited. */
export function Waiting({ says }: { says: string }) {
  return (
    <div role="status" className="mt-24 flex flex-col items-center gap-4 text-xl">
      <span className="loading loading-bars loading-lg" aria-hidden />
      <p>{says} …</p>
    </div>
  );
}
