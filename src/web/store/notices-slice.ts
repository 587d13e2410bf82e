import { createSlice, nanoid, type PayloadAction } from "@reduxjs/toolkit";

export interface Notice {
  id: string;
  says: string;
  /** The passage that Undo fetches back from the bin. */
  restoreId?: string;
}

const slice = createSlice({
  name: "notices",
  initialState: { list: [] as Notice[] },
  reducers: {
    notify: {
      reducer(state, action: PayloadAction<Notice>) {
        state.list.push(action.payload);
        if (state.list.length > 3) state.list.shift();
      },
      prepare: (notice: Omit<Notice, "id">) => ({ payload: { id: nanoid(), ...notice } }),
    },
    dismissNotice(state, action: PayloadAction<string>) {
      state.list = state.list.filter((notice) => notice.id !== action.payload);
    },
  },
});

export const { notify, dismissNotice } = slice.actions;
export const noticesReducer = slice.reducer;
