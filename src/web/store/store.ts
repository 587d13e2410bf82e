import { configureStore } from "@reduxjs/toolkit";
import { setupListeners } from "@reduxjs/toolkit/query";
import { api } from "./api.ts";
import { autosave } from "./autosave.ts";
import { rootReducer } from "./root.ts";

export function createStore() {
  const store = configureStore({
    reducer: rootReducer,
    // Passages are large and patches are plain: the deep checks of development would cost more than they find.
    middleware: (defaults) => defaults({ serializableCheck: false, immutableCheck: false }).prepend(autosave.middleware).concat(api.middleware),
  });
  setupListeners(store.dispatch);
  return store;
}
