import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { Provider } from "react-redux";
import { BrowserRouter } from "react-router";
import { App } from "./App.tsx";
import { createStore } from "./create-store.ts";
import { LookProvider } from "./look/look.tsx";
import { askFirst } from "./store/first-questions.ts";
import "./styles.css";

const store = createStore();
void askFirst(store.dispatch, location.pathname);

createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <Provider store={store}>
      <LookProvider>
        <BrowserRouter>
          <App />
        </BrowserRouter>
      </LookProvider>
    </Provider>
  </StrictMode>,
);
