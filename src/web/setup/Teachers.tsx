import { Link } from "react-router";
import { SureButton } from "../parts/SureButton.tsx";
import { Trouble } from "../parts/Trouble.tsx";
import { troubleOf, useLeaveTeacherMutation, useShowToMutation, useTeachingQuery } from "../store/api.ts";

/** Who teaches whoever is signed in, and whether they see what is practised; nothing where nobody does. */
export function Teachers() {
  const { data, error } = useTeachingQuery();
  const [show, showing] = useShowToMutation();
  const [leave] = useLeaveTeacherMutation();
  if (error !== undefined && data === undefined) return <Trouble {...troubleOf(error)} />;
  if (!data) return null;
  return (
    <>
      {data.teachers.length > 0 && (
        <div className="mb-6">
          <h3 className="text-lg font-bold">Your teachers</h3>
          <p>
            They give you passages. If you let them, they see how long you practised what, your clean and other tries, and the figures of your takes; never your
            notes, your recordings, or what hurt.
          </p>
          {showing.error !== undefined && <Trouble {...troubleOf(showing.error)} />}
          <ul className="divide-y divide-base-300">
            {data.teachers.map(({ id, name, sees }) => (
              <li key={id} className="flex flex-wrap items-center gap-3 py-2">
                <b className="mr-auto min-w-0 break-words">{name}</b>
                <label className="flex items-center gap-2">
                  <input
                    type="checkbox"
                    className="toggle toggle-sm"
                    checked={sees}
                    disabled={showing.isLoading}
                    onChange={() => void show({ teacher: id, sees: !sees })}
                  />
                  sees what I practise<span className="sr-only">: {name}</span>
                </label>
                <SureButton says="Leave" label={`Leave ${name}`} sure={`Yes, leave ${name}`} onSure={() => void leave(id)} />
              </li>
            ))}
          </ul>
        </div>
      )}
      {data.students.length > 0 && (
        <p className="mb-6">
          <Link to="/students" className="btn btn-sm">
            Your students
          </Link>
        </p>
      )}
    </>
  );
}
