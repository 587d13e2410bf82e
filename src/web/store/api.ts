import { createApi, type FetchBaseQueryError, fetchBaseQuery } from "@reduxjs/toolkit/query/react";
import type { z } from "zod";
import {
  type acceptance,
  changedSetup,
  type confirmation,
  type credentials,
  giftList,
  given,
  type giving,
  health,
  type invitationAsked,
  invitationList,
  keptBackups,
  keptRecording,
  keptRecordings,
  keptTakes,
  limits,
  type linkAsked,
  linkList,
  listedPassages,
  listedSessions,
  madeInvitation,
  madeLink,
  me,
  type newPassphrase,
  nextStep,
  offeredInvitation,
  planSummary,
  problem,
  restorePreview,
  type SetupKind,
  savedPassage,
  setupItems,
  sharedPassage,
  signInList,
  standings,
  storedPassage,
  studentReport,
  takenOffer,
  teachings,
} from "../../api/wire.ts";
import type { Fault } from "../../core/passage/parse.ts";
import type { Instrument, Passage, PassageInput, Player } from "../../core/passage/schema.ts";
import { type PracticeSession, practiceSessionSchema } from "../../core/practice/record.ts";

/** A backup out of a file, or the name of a kept one. */
export type BackupSource = File | { name: string };

/** How a backup is sent. */
export function bodyOf(from: BackupSource): { body: File | string; headers: Record<string, string> } {
  return from instanceof File
    ? { body: from, headers: { "Content-Type": "application/zip" } }
    : { body: JSON.stringify(from), headers: { "Content-Type": "application/json" } };
}

interface SetupBody {
  kind: SetupKind;
  name: string;
  value: Instrument | Player;
}

/** A schema for answers. What it fills in is there already, so that for the store both sides of it are alike. */
function answerOf<T>(schema: z.ZodType<T>): z.ZodType<T, T> {
  return schema as z.ZodType<T, T>;
}

/** What may change under a page that shows it. */
export const TAGS = ["shelf", "bin", "setup", "backups", "practice", "recordings", "sign-ins", "invitations", "teaching"] as const;

const ask = fetchBaseQuery({ baseUrl: "/api/", timeout: 20_000 });

/** Where nobody is signed in any more it is asked who is here: the page shows then how to come in. */
const askedAs: typeof ask = async (args, queryApi, options) => {
  const answer = await ask(args, queryApi, options);
  if (answer.error?.status === 401) queryApi.dispatch({ type: "api/invalidateTags", payload: ["me"] });
  return answer;
};

/** The server's state. Passages being edited live in the edit slice, not here. */
export const api = createApi({
  reducerPath: "api",
  baseQuery: askedAs,
  // Another version of the server, or something else in its place: trouble as any other, and never taken for an answer.
  catchSchemaFailure: (): FetchBaseQueryError => ({ status: "CUSTOM_ERROR", error: "unknown answer" }),
  // Plans for the Shelf may take their time: what has changed is asked for again at once (and by ask-again.ts where it was on its way).
  invalidationBehavior: "immediately",
  tagTypes: [...TAGS, "me"],
  endpoints: (build) => ({
    health: build.query<z.output<typeof health>, void>({
      responseSchema: answerOf(health),
      // 503 with a reason is an answer: that the library did not open, and why.
      query: () => ({ url: "health", validateStatus: ({ ok, status }) => ok || status === 503 }),
    }),
    /** Whether this server asks who somebody is, and who is here. */
    me: build.query<z.output<typeof me>, void>({ responseSchema: answerOf(me), query: () => "me", providesTags: ["me"] }),
    signIn: build.mutation<z.output<typeof me>, z.input<typeof credentials>>({
      responseSchema: answerOf(me),
      query: (body) => ({ url: "sign-in", method: "POST", body }),
      invalidatesTags: ["me"],
    }),
    accept: build.mutation<z.output<typeof me>, z.input<typeof acceptance>>({
      responseSchema: answerOf(me),
      query: (body) => ({ url: "invitations/accept", method: "POST", body }),
      invalidatesTags: ["me"],
    }),
    signOut: build.mutation<void, void>({ query: () => ({ url: "sign-out", method: "POST" }), invalidatesTags: ["me"] }),
    signIns: build.query<z.output<typeof signInList>, void>({
      responseSchema: answerOf(signInList),
      query: () => "sign-ins",
      providesTags: ["sign-ins"],
    }),
    /** In one other place, or without one everywhere else. */
    endSignIns: build.mutation<void, string | undefined>({
      query: (id) => ({ url: id === undefined ? "sign-ins" : `sign-ins/${id}`, method: "DELETE" }),
      invalidatesTags: ["sign-ins"],
    }),
    changePassphrase: build.mutation<z.output<typeof me>, z.input<typeof newPassphrase>>({
      responseSchema: answerOf(me),
      query: (body) => ({ url: "me/passphrase", method: "PUT", body }),
      invalidatesTags: ["sign-ins"],
    }),
    deleteAccount: build.mutation<void, z.input<typeof confirmation>>({
      query: (body) => ({ url: "me", method: "DELETE", body }),
      invalidatesTags: ["me"],
    }),
    invitations: build.query<z.output<typeof invitationList>, void>({
      responseSchema: answerOf(invitationList),
      query: () => "invitations",
      providesTags: ["invitations"],
    }),
    invite: build.mutation<z.output<typeof madeInvitation>, z.input<typeof invitationAsked>>({
      responseSchema: answerOf(madeInvitation),
      query: (body) => ({ url: "invitations", method: "POST", body }),
      invalidatesTags: ["invitations"],
    }),
    withdraw: build.mutation<void, string>({ query: (id) => ({ url: `invitations/${id}`, method: "DELETE" }), invalidatesTags: ["invitations"] }),
    /** What an invitation is, by the secret in its address. */
    invitation: build.query<z.output<typeof offeredInvitation>, string>({
      responseSchema: answerOf(offeredInvitation),
      query: (secret) => ({ url: "invitations/look", method: "POST", body: { secret } }),
    }),
    join: build.mutation<void, string>({
      query: (secret) => ({ url: "invitations/join", method: "POST", body: { secret } }),
      invalidatesTags: ["teaching"],
    }),
    /** Whom one teaches, and who teaches one. */
    teaching: build.query<z.output<typeof teachings>, void>({ responseSchema: answerOf(teachings), query: () => "teaching", providesTags: ["teaching"] }),
    showTo: build.mutation<void, { teacher: string; sees: boolean }>({
      query: ({ teacher, sees }) => ({ url: `teachers/${teacher}`, method: "PATCH", body: { sees } }),
      // The switch goes with the press; where it was refused it goes back.
      onQueryStarted: ({ teacher, sees }, { dispatch, queryFulfilled }) => {
        const shown = dispatch(
          api.util.updateQueryData("teaching", undefined, ({ teachers }) => {
            for (const one of teachers) if (one.id === teacher) one.sees = sees;
          }),
        );
        queryFulfilled.catch(shown.undo);
      },
      invalidatesTags: ["teaching"],
    }),
    leaveTeacher: build.mutation<void, string>({ query: (id) => ({ url: `teachers/${id}`, method: "DELETE" }), invalidatesTags: ["teaching"] }),
    letGo: build.mutation<void, string>({ query: (id) => ({ url: `students/${id}`, method: "DELETE" }), invalidatesTags: ["teaching"] }),
    report: build.query<z.output<typeof studentReport>, { student: string; since: string; zone: string }>({
      responseSchema: answerOf(studentReport),
      query: ({ student, ...params }) => ({ url: `students/${student}/report`, params }),
      providesTags: ["teaching"],
    }),
    give: build.mutation<z.output<typeof given>, { passage: string } & z.input<typeof giving>>({
      responseSchema: answerOf(given),
      query: ({ passage, ...body }) => ({ url: `passages/${passage}/give`, method: "POST", body }),
    }),
    gifts: build.query<z.output<typeof giftList>, void>({ responseSchema: answerOf(giftList), query: () => "gifts", providesTags: ["teaching"] }),
    takeOffer: build.mutation<z.output<typeof takenOffer>, string>({
      responseSchema: answerOf(takenOffer),
      query: (id) => ({ url: `gifts/${id}/take`, method: "POST" }),
      invalidatesTags: ["teaching", "shelf", "setup"],
    }),
    leaveOffer: build.mutation<void, string>({ query: (id) => ({ url: `gifts/${id}/leave`, method: "POST" }), invalidatesTags: ["teaching"] }),
    links: build.query<z.output<typeof linkList>, void>({ responseSchema: answerOf(linkList), query: () => "links", providesTags: ["teaching"] }),
    makeLink: build.mutation<z.output<typeof madeLink>, { passage: string } & z.input<typeof linkAsked>>({
      responseSchema: answerOf(madeLink),
      query: ({ passage, ...body }) => ({ url: `passages/${passage}/links`, method: "POST", body }),
      invalidatesTags: ["teaching"],
    }),
    withdrawLink: build.mutation<void, string>({ query: (id) => ({ url: `links/${id}`, method: "DELETE" }), invalidatesTags: ["teaching"] }),
    /** What lies under a link, by the secret in its address. */
    shared: build.query<z.output<typeof sharedPassage>, string>({
      responseSchema: answerOf(sharedPassage),
      query: (secret) => ({ url: "shared", method: "POST", body: { secret } }),
    }),
    list: build.query<z.output<typeof listedPassages>, "shelf" | "bin">({
      responseSchema: answerOf(listedPassages),
      query: (where) => (where === "bin" ? "passages?bin" : "passages"),
      providesTags: (_result, _error, where) => [where],
    }),
    summary: build.query<z.output<typeof planSummary>, { id: string; version: number }>({
      responseSchema: answerOf(planSummary),
      query: ({ id }) => `passages/${id}/summary`,
      keepUnusedDataFor: 3600,
    }),
    limits: build.query<z.output<typeof limits>, { id: string; version: number }>({
      responseSchema: answerOf(limits),
      query: ({ id }) => `passages/${id}/limits`,
      keepUnusedDataFor: 3600,
    }),
    passage: build.query<z.output<typeof storedPassage>, string>({
      responseSchema: answerOf(storedPassage),
      query: (id) => `passages/${id}`,
      keepUnusedDataFor: 0,
    }),
    /** A passage that is fetched before anybody opens it. */
    ahead: build.query<z.output<typeof storedPassage>, string>({
      responseSchema: answerOf(storedPassage),
      query: (id) => ({ url: `passages/${id}`, headers: { Purpose: "prefetch" } }),
      keepUnusedDataFor: 0,
    }),
    create: build.mutation<z.output<typeof storedPassage>, PassageInput>({
      responseSchema: answerOf(storedPassage),
      query: (body) => ({ url: "passages", method: "POST", body }),
      invalidatesTags: ["shelf"],
    }),
    /** A file read by the server as the page has read it; under the name in `keep` it stays with the passage. */
    importFile: build.mutation<
      z.output<typeof storedPassage>,
      { bytes: Uint8Array; part?: number | undefined; grid?: string | undefined; keep?: string | undefined }
    >({
      responseSchema: answerOf(storedPassage),
      query: ({ bytes, ...params }) => ({ url: "import", method: "POST", params, body: bytes, headers: { "Content-Type": "application/octet-stream" } }),
      invalidatesTags: ["shelf"],
    }),
    backups: build.query<z.output<typeof keptBackups>, void>({
      responseSchema: answerOf(keptBackups),
      query: () => "backups",
      providesTags: ["backups"],
    }),
    previewRestore: build.mutation<z.output<typeof restorePreview>, BackupSource>({
      responseSchema: answerOf(restorePreview),
      query: (from) => ({ url: "restore/preview", method: "POST", ...bodyOf(from) }),
    }),
    save: build.mutation<z.output<typeof savedPassage>, { id: string; basedOn: number; passage: Passage }>({
      responseSchema: answerOf(savedPassage),
      query: ({ id, basedOn, passage }) => ({ url: `passages/${id}`, method: "PUT", body: passage, headers: { "If-Match": `"${basedOn}"` } }),
      invalidatesTags: ["shelf", "setup"],
    }),
    bin: build.mutation<void, string>({ query: (id) => ({ url: `passages/${id}`, method: "DELETE" }), invalidatesTags: ["shelf", "bin", "practice"] }),
    restore: build.mutation<z.output<typeof savedPassage>, string>({
      responseSchema: answerOf(savedPassage),
      query: (id) => ({ url: `passages/${id}/restore`, method: "POST" }),
      invalidatesTags: ["shelf", "bin", "practice"],
    }),
    /** What to begin with; what is due after `by` rests. */
    next: build.query<z.output<typeof nextStep>, { id: string; version: number; by: string }>({
      responseSchema: answerOf(nextStep),
      query: ({ id, by }) => ({ url: `passages/${id}/next`, params: { by } }),
      providesTags: ["practice"],
    }),
    sessions: build.query<z.output<typeof listedSessions>, { since?: string }>({
      responseSchema: answerOf(listedSessions),
      query: (params) => ({ url: "practice", params }),
      providesTags: ["practice"],
    }),
    standings: build.query<z.output<typeof standings>, void>({
      responseSchema: answerOf(standings),
      query: () => "practice/standings",
      providesTags: ["practice"],
    }),
    takes: build.query<z.output<typeof keptTakes>, string>({
      responseSchema: answerOf(keptTakes),
      query: (passage) => ({ url: "practice/takes", params: { passage } }),
      providesTags: ["practice"],
    }),
    recordings: build.query<z.output<typeof keptRecordings>, void>({
      responseSchema: answerOf(keptRecordings),
      query: () => "recordings",
      providesTags: ["recordings"],
    }),
    keepRecording: build.mutation<z.output<typeof keptRecording>, { id: string; wav: Blob }>({
      responseSchema: answerOf(keptRecording),
      query: ({ id, wav }) => ({ url: `recordings/${id}`, method: "PUT", body: wav, headers: { "Content-Type": "audio/wav" }, timeout: 120_000 }),
      invalidatesTags: ["recordings"],
    }),
    removeRecording: build.mutation<void, string>({ query: (id) => ({ url: `recordings/${id}`, method: "DELETE" }), invalidatesTags: ["recordings"] }),
    removeRecordings: build.mutation<void, void>({ query: () => ({ url: "recordings", method: "DELETE" }), invalidatesTags: ["recordings"] }),
    keepSession: build.mutation<PracticeSession, PracticeSession>({
      responseSchema: answerOf(practiceSessionSchema),
      query: (body) => ({ url: `practice/sessions/${body.id}`, method: "PUT", body }),
      invalidatesTags: ["practice"],
    }),
    noteSession: build.mutation<PracticeSession, { id: string; note: string }>({
      responseSchema: answerOf(practiceSessionSchema),
      query: ({ id, note }) => ({ url: `practice/sessions/${id}`, method: "PATCH", body: { note } }),
      invalidatesTags: ["practice"],
    }),
    removeSession: build.mutation<void, string>({
      query: (id) => ({ url: `practice/sessions/${id}`, method: "DELETE" }),
      invalidatesTags: ["practice", "recordings"],
    }),
    removeLog: build.mutation<void, void>({ query: () => ({ url: "practice", method: "DELETE" }), invalidatesTags: ["practice", "recordings"] }),
    instruments: build.query<z.output<typeof setupItems.instruments>, void>({
      responseSchema: answerOf(setupItems.instruments),
      query: () => "instruments",
      providesTags: ["setup"],
    }),
    players: build.query<z.output<typeof setupItems.players>, void>({
      responseSchema: answerOf(setupItems.players),
      query: () => "players",
      providesTags: ["setup"],
    }),
    createSetup: build.mutation<z.output<typeof changedSetup>, SetupBody>({
      responseSchema: answerOf(changedSetup),
      query: ({ kind, ...body }) => ({ url: kind, method: "POST", body }),
      invalidatesTags: ["setup"],
    }),
    changeSetup: build.mutation<z.output<typeof changedSetup>, SetupBody & { id: string; basedOn: string }>({
      responseSchema: answerOf(changedSetup),
      query: ({ kind, id, basedOn, ...body }) => ({ url: `${kind}/${id}`, method: "PUT", body, headers: { "If-Match": `"${basedOn}"` } }),
      invalidatesTags: ["setup", "shelf", "bin"],
    }),
    setDefault: build.mutation<void, { kind: SetupKind; id: string }>({
      query: ({ kind, id }) => ({ url: `${kind}/${id}/default`, method: "PUT" }),
      invalidatesTags: ["setup"],
    }),
    removeSetup: build.mutation<void, { kind: SetupKind; id: string; basedOn: string }>({
      query: ({ kind, id, basedOn }) => ({ url: `${kind}/${id}`, method: "DELETE", headers: { "If-Match": `"${basedOn}"` } }),
      invalidatesTags: ["setup"],
    }),
    removeForever: build.mutation<void, string>({
      query: (id) => ({ url: `passages/${id}?forever`, method: "DELETE" }),
      invalidatesTags: ["bin", "recordings"],
    }),
  }),
});

export const {
  useHealthQuery,
  useMeQuery,
  useSignInMutation,
  useAcceptMutation,
  useSignOutMutation,
  useSignInsQuery,
  useEndSignInsMutation,
  useChangePassphraseMutation,
  useDeleteAccountMutation,
  useInvitationsQuery,
  useInviteMutation,
  useWithdrawMutation,
  useInvitationQuery,
  useJoinMutation,
  useTeachingQuery,
  useShowToMutation,
  useLeaveTeacherMutation,
  useLetGoMutation,
  useReportQuery,
  useGiveMutation,
  useGiftsQuery,
  useTakeOfferMutation,
  useLeaveOfferMutation,
  useLinksQuery,
  useMakeLinkMutation,
  useWithdrawLinkMutation,
  useSharedQuery,
  useListQuery,
  useSummaryQuery,
  useLimitsQuery,
  usePassageQuery,
  useCreateMutation,
  useImportFileMutation,
  useBackupsQuery,
  usePreviewRestoreMutation,
  useBinMutation,
  useRestoreMutation,
  useRemoveForeverMutation,
  useNextQuery,
  useSessionsQuery,
  useStandingsQuery,
  useTakesQuery,
  useRecordingsQuery,
  useKeepRecordingMutation,
  useRemoveRecordingMutation,
  useRemoveRecordingsMutation,
  useKeepSessionMutation,
  useNoteSessionMutation,
  useRemoveSessionMutation,
  useRemoveLogMutation,
  useInstrumentsQuery,
  usePlayersQuery,
  useCreateSetupMutation,
  useChangeSetupMutation,
  useSetDefaultMutation,
  useRemoveSetupMutation,
} = api;

/** What went wrong with a request, in words, with places where the server names them. */
export function troubleOf(error: unknown): { title: string; says?: string; faults: Fault[]; status: number | null } {
  const known = error as FetchBaseQueryError | undefined;
  if (known && typeof known.status === "number") {
    const read = problem.safeParse(known.data);
    if (!read.success) return { title: `The server answered ${known.status}`, faults: [], status: known.status };
    const { title, detail, faults = [] } = read.data;
    return { title, ...(detail ? { says: detail } : {}), faults, status: known.status };
  }
  if (known?.status === "CUSTOM_ERROR")
    return {
      title: "The server answered in a way that this page does not know",
      says: "Reload the page; what you typed is kept here.",
      faults: [],
      status: null,
    };
  return {
    title: "The server cannot be reached",
    says: "Check that it is still running, then try again. What you typed is kept here.",
    faults: [],
    status: null,
  };
}
