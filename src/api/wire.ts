import { z } from "zod";
import type { Limits } from "../core/document/plan.ts";
import type { Posture } from "../core/drawing/marks.ts";
import { DRILL_KINDS } from "../core/drills/types.ts";
import { INSTRUMENT_KINDS } from "../core/music/instruments.ts";
import { instrumentSchema, passageSchema, playerSchema } from "../core/passage/schema.ts";
import { textSchema } from "../core/passage/text.ts";
import { keptTakeSchema, practiceSessionSchema } from "../core/practice/record.ts";
import type { PracticeReport } from "../core/practice/report.ts";
import type { PlanSummary } from "../core/summary.ts";

/** What server and page say to each other. The server answers through these schemas, and the page takes no answer that does not fit them. */

const id = z.uuid();
const moment = z.iso.datetime();
const count = z.int().min(0);

/** `ready` means that the database was read and written just now; `faults` are passages that cannot be read. */
export const health = z.object({ status: z.enum(["opening", "ready", "failed"]), reason: z.string().optional(), faults: z.array(z.string()).optional() });

/** What a list needs of a passage; the music itself is fetched when it is opened. */
export const listedPassage = z.object({
  id,
  version: count,
  updatedAt: moment,
  openedAt: moment.nullable(),
  deletedAt: moment.nullable(),
  /** Name of the file it came from, where that is kept. */
  original: z.string().nullable(),
  title: z.string(),
  tags: z.array(z.string()),
  tempo: z.number(),
  goalTempo: z.number().nullable(),
  kind: z.enum(INSTRUMENT_KINDS),
  strings: count,
  bars: count,
  /** Why it cannot be read, where it cannot: then what is said of its music means nothing. */
  fault: z.string().optional(),
});
export type ListedPassage = z.infer<typeof listedPassage>;
export const listedPassages = z.array(listedPassage);

/** That a passage was saved, and as which version. */
export const savedPassage = z.object({ id, version: count, updatedAt: moment });
export type SavedPassage = z.infer<typeof savedPassage>;

/** A passage with the version of the library's copy. */
export const storedPassage = listedPassage.pick({ id: true, version: true, updatedAt: true, openedAt: true, deletedAt: true, original: true }).extend({
  passage: passageSchema,
});
export type StoredPassage = z.infer<typeof storedPassage>;

/** An instrument or a player of the setup, and how many passages use it, those in the bin too. */
const setupItem = z.object({
  id,
  name: z.string(),
  isDefault: z.boolean(),
  passages: count,
  /** Another one whenever name or value are; a change names the one that it is based on in If-Match. */
  version: z.string(),
});
export const setupItems = {
  instruments: z.array(setupItem.extend({ value: instrumentSchema })),
  players: z.array(setupItem.extend({ value: playerSchema })),
} as const;
/** The two kinds of things a player sets up. */
export type SetupKind = keyof typeof setupItems;
export type SetupItem<K extends SetupKind = SetupKind> = z.infer<(typeof setupItems)[K]>[number];

/** An instrument or a player after a change, and how many passages it reached. */
export const changedSetup = setupItem.extend({ value: z.union([instrumentSchema, playerSchema]), changedPassages: count });

const name = textSchema(80).trim().min(1);
/** What is sent to make or change one. */
export const setupBodies = {
  instruments: z.strictObject({ name, value: instrumentSchema }),
  players: z.strictObject({ name, value: playerSchema }),
} as const;

const limit = z.object({ tempo: z.number(), bar: z.int().optional(), at: z.string().optional(), says: z.string() }).nullable();
export const limits = z.object({ hands: limit, clean: limit }) as z.ZodType<Limits>;

const strings = z.array(z.int());
const posture = z.object({
  count,
  marks: z.array(z.looseObject({ hand: z.string(), part: z.string(), strings })),
  blows: z.array(z.looseObject({ way: z.string(), strings })),
  bends: z.array(z.object({ string: z.int(), fret: z.int(), towardsTreble: z.boolean() })),
  states: z.array(z.string()),
  position: z.number(),
}) as unknown as z.ZodType<Posture>;
export const planSummary = z.object({
  strays: count,
  issues: count,
  hands: posture.nullable(),
  miniature: z.array(z.object({ at: z.number(), width: z.number(), states: z.array(z.string()) })),
}) as z.ZodType<PlanSummary>;

/** A session of practice as a list has it: what came of its drills instead of each try. */
export const listedSession = practiceSessionSchema.omit({ drills: true, tries: true, takes: true }).extend({
  outcomes: z.array(
    z.object({
      drill: z.object({ id: z.string(), kind: z.enum(DRILL_KINDS), title: z.string(), goal: z.number() }),
      tries: count,
      clean: count,
      reached: z.number().nullable(),
      seconds: z.number(),
    }),
  ),
  takes: z.array(
    keptTakeSchema
      .pick({ id: true, at: true, says: true, seconds: true, written: true, played: true, evenMs: true })
      .extend({ wrong: count, strays: z.array(count) }),
  ),
});
export type ListedSession = z.infer<typeof listedSession>;
export const listedSessions = z.array(listedSession);

/** Takes of a passage, the latest first. */
export const keptTakes = z.array(keptTakeSchema);

/** The sound of a take, kept because somebody asked for it; by the take's id. */
export const keptRecording = z.object({ id, bytes: count });
export const keptRecordings = z.array(keptRecording);

/** How a drill stands: its last tries, and when it is due again, in ms since 1970. */
const drillState = z.object({
  id: z.string(),
  kind: z.enum(DRILL_KINDS),
  title: z.string(),
  goal: z.number(),
  lately: z.array(z.object({ drill: z.string(), tempo: z.number(), clean: z.boolean(), at: z.number() })),
  last: z.number(),
  due: z.number(),
});
/** What was practised of a passage, or of a move without one, and how it stands. */
export const standing = z.object({ passage: id.nullable(), figure: z.string().nullable(), title: z.string(), drills: z.array(drillState) });
export type Standing = z.infer<typeof standing>;
export const standings = z.array(standing);

/** What to begin with when a passage is practised next; null where nothing is played yet. */
export const nextStep = z.object({ title: z.string(), tempo: z.number(), goal: z.number() }).nullable();
export type NextStep = z.infer<typeof nextStep>;

/** A backup that the server keeps, and why it was written. */
export const keptBackup = z.object({ name: z.string(), savedAt: moment, reason: z.enum(["daily", "migration", "restore", "asked"]), bytes: count });
export type KeptBackup = z.infer<typeof keptBackup>;
export type BackupReason = KeptBackup["reason"];
export const keptBackups = z.array(keptBackup);

/** What is done with a passage that is here and in the backup, but not the same. */
export const doubles = z.enum(["keep", "replace", "both"]);
export type Doubles = z.infer<typeof doubles>;

/** What a restore would do with a passage of the backup. */
const restoreItem = z.object({
  id: z.string(),
  title: z.string(),
  /** `new`: not here; `same`: here already; `binned`: here, but in the bin; `double`: here with another content. */
  state: z.enum(["new", "same", "binned", "double"]),
  /** Whether it lies in the bin in the backup. */
  inBin: z.boolean(),
  updatedAt: z.string(),
  /** The one that is here, for doubles. */
  here: z.object({ title: z.string(), updatedAt: z.string(), inBin: z.boolean() }).nullable(),
});
export type RestoreItem = z.infer<typeof restoreItem>;
export const restorePreview = z.object({
  savedAt: z.string(),
  passages: z.array(restoreItem),
  /** Named instruments and players that are not here yet, or have no name here. */
  newSetups: z.array(z.string()),
  /** Sessions of practice that are not here yet. */
  newSessions: count,
  /** Recordings of takes that are not here yet. */
  newRecordings: count,
});
export type RestorePreview = z.infer<typeof restorePreview>;
export const restored = z.object({ added: count, replaced: count, leftAsTheyAre: count });
export type Restored = z.infer<typeof restored>;

/** A long job as it goes, a line each (application/x-ndjson): how far it is, and at the end what it came to or why it did not. */
export const jobLine = z.union([z.object({ done: count, of: count }), z.object({ result: z.unknown() }), z.object({ problem: z.lazy(() => problem) })]);
export type JobLine = z.infer<typeof jobLine>;
/** What is asked for to see a job go. */
export const JOB_TYPE = "application/x-ndjson";
/** A backup that was just written, and the titles of what cannot be read and is not in it. */
export const writtenBackup = z.object({
  name: z.string(),
  leftOut: z.array(z.string()),
  /** Recordings beyond what one backup takes. */
  recordingsLeft: count,
});

/** What somebody with an account is called. */
export const personName = textSchema(60).trim().min(1, "A name is needed.");
export const passphraseSchema = z
  .string()
  .min(12, "At least 12 characters: a few words that do not go together are a good passphrase.")
  .max(200, "At most 200 characters.");

/** Who has an account. */
export const person = z.object({ id, name: z.string(), mayInvite: z.boolean() });
export type Person = z.infer<typeof person>;

/** What has changed in somebody's library, told to their open pages; `anything` where something may have been missed. */
export const change = z.union([
  z.object({ what: z.literal("passage"), id, version: count }),
  z.object({ what: z.enum(["practice", "setup", "teaching", "anything"]) }),
]);
export type Told = z.infer<typeof change>;

/** Whether this server asks who somebody is, and who is asking. */
export const me = z.object({ login: z.boolean(), person: person.nullable() });
export type Me = z.infer<typeof me>;

/** What is sent to sign in: a passphrase of any length is looked at. */
export const credentials = z.strictObject({ name: z.string().max(200), passphrase: z.string().max(1000) });
export const newPassphrase = z.strictObject({ now: z.string().max(1000), passphrase: passphraseSchema });
export const confirmation = z.strictObject({ passphrase: z.string().max(1000) });
export const newAccount = z.strictObject({ name: personName, passphrase: passphraseSchema });
export const acceptance = newAccount.extend({ secret: z.string().max(200) });
export const invitationAsked = z.strictObject({ note: textSchema(100), mayInvite: z.boolean().default(false), asStudent: z.boolean().default(false) });
/** The secret of an invitation or of a link, out of its address. */
export const secretSent = z.strictObject({ secret: z.string().max(200) });

/** An invitation that nobody has taken yet. */
export const invitation = z.object({ id, note: z.string(), mayInvite: z.boolean(), asStudent: z.boolean(), expiresAt: moment });
/** What whoever has its address learns of it. */
export const offeredInvitation = z.object({ by: z.string(), asStudent: z.boolean() });
export type Invitation = z.infer<typeof invitation>;
export const invitationList = z.array(invitation);
/** One that was just made, with the secret for its address, which is told once. */
export const madeInvitation = z.object({ invitation, secret: z.string() });

/** Where somebody is signed in, and since when. */
export const signIn = z.object({ id, agent: z.string(), since: moment, seenAt: moment, isHere: z.boolean() });
export type SignIn = z.infer<typeof signIn>;
export const signInList = z.array(signIn);

/** Whom somebody teaches, and who teaches them. */
export const teachings = z.object({
  /** Whether they see what is practised. */
  teachers: z.array(z.object({ id, name: z.string(), sees: z.boolean() })),
  /** Whether they show what they practise. */
  students: z.array(z.object({ id, name: z.string(), shows: z.boolean() })),
});
export type Teachings = z.infer<typeof teachings>;
export const shownToTeacher = z.strictObject({ sees: z.boolean() });

/** A drill that a teacher asks for, by the id that it has in every plan of the passage. */
const askedDrill = z.strictObject({ id: textSchema(200, 1), title: textSchema(300) });
export type AskedDrill = z.infer<typeof askedDrill>;
export const askedDrills = z.array(askedDrill).max(20);
/** A passage for students; `students` are those of `teachings`. */
export const giving = z.strictObject({ students: z.array(id).min(1).max(200), note: textSchema(1000), drills: askedDrills });
/** To how many it is new, to how many a newer one is offered, and how many had it already. */
export const given = z.object({ copies: count, offers: count, same: count });

/** A passage that a teacher gave, and whether a newer one is offered in its place. */
export const gift = z.object({
  id,
  passage: id,
  by: z.string(),
  givenAt: moment,
  note: z.string(),
  drills: askedDrills,
  isOffered: z.boolean(),
});
export type Gift = z.infer<typeof gift>;
export const giftList = z.array(gift);
/** What came of taking an offer; `kept` is the copy of one's own work, where there was some. */
export const takenOffer = z.object({ passage: id, kept: id.nullable() });

const practiceReport = z.object({
  seconds: z.number(),
  days: count,
  subjects: z.array(
    z.object({
      passage: id.nullable(),
      figure: z.string().nullable(),
      title: z.string(),
      seconds: z.number(),
      sessions: count,
      last: moment,
      tries: count,
      clean: count,
      whole: z.object({ reached: z.number().nullable(), goal: z.number() }).nullable(),
      takes: z.object({ many: count, first: count, last: count }).nullable(),
    }),
  ),
  hardest: z.array(z.object({ of: z.string(), title: z.string(), tries: count, clean: count, reached: z.number().nullable(), goal: z.number() })),
}) satisfies z.ZodType<PracticeReport>;

/** What a student practised, for the teacher: figures, no words of theirs. */
export const studentReport = z.object({ name: z.string(), report: practiceReport.nullable() });
export type StudentReport = z.infer<typeof studentReport>;

/** For how many days a link holds. */
export const LINK_DAYS = [7, 30, 90] as const;
export const linkAsked = z.strictObject({ days: z.literal(LINK_DAYS) });
/** An address under which a passage can be read. */
export const link = z.object({ id, passage: id, expiresAt: moment });
export const linkList = z.array(link);
/** One that was just made, with the secret for its address, which is told once. */
export const madeLink = z.object({ link, secret: z.string() });
/** What whoever has the address reads. */
export const sharedPassage = z.object({ passage: passageSchema, by: z.string(), expiresAt: moment });

/** RFC 9457 problem details, as every refusal is answered. */
export const problem = z.object({
  type: z.literal("about:blank").optional(),
  status: z.int(),
  title: z.string(),
  detail: z.string().optional(),
  faults: z.array(z.object({ place: z.string(), says: z.string() })).optional(),
  version: z.int().optional(),
});
export type Problem = z.infer<typeof problem>;
