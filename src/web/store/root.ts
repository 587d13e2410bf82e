import { combineReducers, type ThunkDispatch, type UnknownAction } from "@reduxjs/toolkit";
import { api } from "./api.ts";
import { editReducer } from "./edit-slice.ts";
import { noticesReducer } from "./notices-slice.ts";

export const rootReducer = combineReducers({ [api.reducerPath]: api.reducer, edit: editReducer, notices: noticesReducer });

export type RootState = ReturnType<typeof rootReducer>;
export type Dispatch = ThunkDispatch<RootState, unknown, UnknownAction>;
