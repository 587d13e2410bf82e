import { configureStore, type Middleware } from "@reduxjs/toolkit";
import { setupListeners } from "@reduxjs/toolkit/query";
import { planAhead } from "./planner/use-plan.ts";
import { api } from "./store/api.ts";
import { askAgain } from "./store/ask-again.ts";
import { autosave } from "./store/autosave.ts";
import { changed } from "./store/edit-slice.ts";
import { type RootState, rootReducer } from "./store/root.ts";

/** Planning begins before the page draws the change, so that both go on at once. */
const planning: Middleware<object, RootState> = (store) => (next) => (action) => {
  const { passage } = store.getState().edit;
  if (passage && changed.match(action)) planAhead(passage, action.payload.passage);
  return next(action);
};

export function createStore() {
  const store = configureStore({
    reducer: rootReducer,
    // Passages are large and patches are plain: the deep checks of development would cost more than they find.
    middleware: (defaults) =>
      defaults({ serializableCheck: false, immutableCheck: false }).prepend(planning, autosave.middleware).concat(api.middleware, askAgain),
    // What the server answers is shown at once, not a frame later.
    enhancers: (defaults) => defaults({ autoBatch: { type: "tick" } }),
  });
  setupListeners(store.dispatch);
  return store;
}
