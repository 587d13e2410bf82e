import { type Look, useLook } from "./look.tsx";

type Question = { [K in keyof Look]: { key: K; asks: string; options: readonly { value: Look[K]; says: string }[] } }[keyof Look];

const QUESTIONS: readonly Question[] = [
  {
    key: "frets",
    asks: "Which hand frets?",
    options: [
      { value: "left", says: "the left" },
      { value: "right", says: "the right: the end view is mirrored" },
    ],
  },
  {
    key: "top",
    asks: "Which string is on top in the score?",
    options: [
      { value: "string-1", says: "string 1, the highest" },
      { value: "lowest", says: "the lowest, as one looks down on it" },
    ],
  },
  {
    key: "text",
    asks: "How large is the text?",
    options: [
      { value: "normal", says: "normal" },
      { value: "large", says: "large" },
      { value: "largest", says: "largest" },
    ],
  },
];

/** Left-handers, the order of strings, text size. Kept in this browser. */
export function Appearance() {
  const { look, setLook } = useLook();
  return (
    <section aria-label="Appearance">
      <h2 className="mb-2 text-2xl font-bold">Appearance</h2>
      <p className="quiet mb-3">Kept in this browser. Light and dark are at the top of every page.</p>
      <div className="flex flex-col gap-4">
        {QUESTIONS.map((question) => (
          <fieldset key={question.key}>
            <legend className="mb-1 font-bold">{question.asks}</legend>
            <div className="flex flex-wrap gap-x-6 gap-y-1">
              {question.options.map(({ value, says }) => (
                <label key={value} className="flex cursor-pointer items-center gap-2">
                  <input
                    type="radio"
                    className="radio radio-sm"
                    name={question.key}
                    checked={look[question.key] === value}
                    onChange={() => setLook({ ...look, [question.key]: value })}
                  />
                  {says}
                </label>
              ))}
            </div>
          </fieldset>
        ))}
      </div>
    </section>
  );
}
