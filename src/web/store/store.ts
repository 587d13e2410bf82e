import { configureStore } from "@reduxjs/toolkit";
import { setupListeners } from "@reduxjs/toolkit/query";
import { api } from "./api.ts";
import { autosave } from "./autosave.ts";
import { editReducer } from "./edit-slice.ts";
import { noticesReducer } from "./notices-slice.ts";

export function createStore() {
  const store = configureStore({
    reducer: { [api.reducerPath]: api.reducer, edit: editReducer, notices: noticesReducer },
    // Passages are large and patches are plain: the deep checks of development would cost more than they find.
    middleware: (defaults) => defaults({ serializableCheck: false, immutableCheck: false }).prepend(autosave.middleware).concat(api.middleware),
  });
  setupListeners(store.dispatch);
  return store;
}

type Store = ReturnType<typeof createStore>;
export type RootState = ReturnType<Store["getState"]>;
export type Dispatch = Store["dispatch"];
