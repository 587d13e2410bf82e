import { type Look, useLook } from "../look/look.tsx";
import { RadioQuestion } from "../parts/RadioQuestion.tsx";

type Question = { [K in keyof Look]: { key: K; asks: string; options: readonly { value: Look[K]; says: string }[] } }[keyof Look];

const QUESTIONS: readonly Question[] = [
  {
    key: "frets",
    asks: "Which hand frets?",
    options: [
      { value: "left", says: "the left" },
      { value: "right", says: "the right: pictures of the hands are mirrored" },
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
          <RadioQuestion
            key={question.key}
            name={question.key}
            asks={question.asks}
            value={look[question.key]}
            options={question.options as readonly { value: Look[keyof Look]; says: string }[]}
            onChoose={(value) => setLook({ ...look, [question.key]: value })}
          />
        ))}
      </div>
    </section>
  );
}
