import { createApi, type FetchBaseQueryError, fetchBaseQuery } from "@reduxjs/toolkit/query/react";
import type { Limits } from "../../core/document/plan.ts";
import type { Doubles, KeptBackup, Restored, RestorePreview } from "../../core/formats/backup/restoring.ts";
import type { InstrumentKind } from "../../core/music/instruments.ts";
import type { Fault } from "../../core/passage/parse.ts";
import type { Instrument, Passage, PassageInput, Player } from "../../core/passage/schema.ts";
import type { PlanSummary } from "../../core/summary.ts";

export interface ListedPassage {
  id: string;
  version: number;
  updatedAt: string;
  openedAt: string | null;
  deletedAt: string | null;
  /** Name of the file it came from, where that is kept. */
  original: string | null;
  title: string;
  tags: string[];
  tempo: number;
  goalTempo: number | null;
  kind: InstrumentKind;
  strings: number;
  bars: number;
}

export interface StoredPassage {
  id: string;
  version: number;
  updatedAt: string;
  passage: Passage;
}

/** A backup out of a file, or the name of a kept one. */
export type BackupSource = File | { name: string };

function restoreBody(from: BackupSource) {
  return from instanceof File ? { body: from, headers: { "Content-Type": "application/zip" } } : { body: from };
}

/** An instrument or a player of the setup. */
export interface SetupItem<T> {
  id: string;
  name: string;
  value: T;
  isDefault: boolean;
  passages: number;
}

export type SetupKind = "instruments" | "players";
interface SetupBody {
  kind: SetupKind;
  name: string;
  value: Instrument | Player;
}

export interface Health {
  status: "opening" | "ready" | "failed";
  reason?: string;
}

/** The server's state. Passages being edited live in the edit slice, not here. */
export const api = createApi({
  reducerPath: "api",
  baseQuery: fetchBaseQuery({ baseUrl: "/api/", timeout: 20_000 }),
  tagTypes: ["shelf", "bin", "setup", "backups"],
  endpoints: (build) => ({
    health: build.query<Health, void>({ query: () => "health" }),
    list: build.query<ListedPassage[], "shelf" | "bin">({
      query: (where) => (where === "bin" ? "passages?bin" : "passages"),
      providesTags: (_result, _error, where) => [where],
    }),
    summary: build.query<PlanSummary, { id: string; version: number }>({ query: ({ id }) => `passages/${id}/summary`, keepUnusedDataFor: 3600 }),
    limits: build.query<Limits, { id: string; version: number }>({
      query: ({ id }) => `passages/${id}/limits`,
      keepUnusedDataFor: 3600,
    }),
    passage: build.query<StoredPassage, string>({ query: (id) => `passages/${id}`, keepUnusedDataFor: 0 }),
    create: build.mutation<StoredPassage, PassageInput>({
      query: (body) => ({ url: "passages", method: "POST", body }),
      invalidatesTags: ["shelf"],
    }),
    /** A file read by the server as the page has read it; under the name in `keep` it stays with the passage. */
    importFile: build.mutation<StoredPassage, { bytes: Uint8Array; part?: number | undefined; grid?: string | undefined; keep?: string | undefined }>({
      query: ({ bytes, ...params }) => ({ url: "import", method: "POST", params, body: bytes, headers: { "Content-Type": "application/octet-stream" } }),
      invalidatesTags: ["shelf"],
    }),
    backups: build.query<KeptBackup[], void>({ query: () => "backups", providesTags: ["backups"] }),
    previewRestore: build.mutation<RestorePreview, BackupSource>({ query: (from) => ({ url: "restore/preview", method: "POST", ...restoreBody(from) }) }),
    restoreBackup: build.mutation<Restored, { from: BackupSource; doubles: Doubles }>({
      query: ({ from, doubles }) => ({ url: "restore", method: "POST", params: { doubles }, ...restoreBody(from) }),
      invalidatesTags: ["shelf", "bin", "setup", "backups"],
    }),
    save: build.mutation<StoredPassage, { id: string; basedOn: number; passage: Passage }>({
      query: ({ id, basedOn, passage }) => ({ url: `passages/${id}`, method: "PUT", body: passage, headers: { "If-Match": `"${basedOn}"` } }),
      invalidatesTags: ["shelf", "setup"],
    }),
    bin: build.mutation<void, string>({ query: (id) => ({ url: `passages/${id}`, method: "DELETE" }), invalidatesTags: ["shelf", "bin"] }),
    restore: build.mutation<StoredPassage, string>({ query: (id) => ({ url: `passages/${id}/restore`, method: "POST" }), invalidatesTags: ["shelf", "bin"] }),
    instruments: build.query<SetupItem<Instrument>[], void>({ query: () => "instruments", providesTags: ["setup"] }),
    players: build.query<SetupItem<Player>[], void>({ query: () => "players", providesTags: ["setup"] }),
    createSetup: build.mutation<SetupItem<unknown>, SetupBody>({
      query: ({ kind, ...body }) => ({ url: kind, method: "POST", body }),
      invalidatesTags: ["setup"],
    }),
    changeSetup: build.mutation<SetupItem<unknown> & { changedPassages: number }, SetupBody & { id: string }>({
      query: ({ kind, id, ...body }) => ({ url: `${kind}/${id}`, method: "PUT", body }),
      invalidatesTags: ["setup", "shelf", "bin"],
    }),
    setDefault: build.mutation<void, { kind: SetupKind; id: string }>({
      query: ({ kind, id }) => ({ url: `${kind}/${id}/default`, method: "PUT" }),
      invalidatesTags: ["setup"],
    }),
    removeSetup: build.mutation<void, { kind: SetupKind; id: string }>({
      query: ({ kind, id }) => ({ url: `${kind}/${id}`, method: "DELETE" }),
      invalidatesTags: ["setup"],
    }),
    removeForever: build.mutation<void, string>({ query: (id) => ({ url: `passages/${id}?forever`, method: "DELETE" }), invalidatesTags: ["bin"] }),
  }),
});

export const {
  useHealthQuery,
  useListQuery,
  useSummaryQuery,
  useLimitsQuery,
  usePassageQuery,
  useCreateMutation,
  useImportFileMutation,
  useBackupsQuery,
  usePreviewRestoreMutation,
  useRestoreBackupMutation,
  useBinMutation,
  useRestoreMutation,
  useRemoveForeverMutation,
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
    const problem = (known.data ?? {}) as { title?: string; detail?: string; faults?: Fault[] };
    return {
      title: problem.title ?? `The server answered ${known.status}`,
      ...(problem.detail ? { says: problem.detail } : {}),
      faults: problem.faults ?? [],
      status: known.status,
    };
  }
  return {
    title: "The server cannot be reached",
    says: "Check that it is still running, then try again. What you typed is kept here.",
    faults: [],
    status: null,
  };
}
