import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { Provider } from "react-redux";
import { BrowserRouter } from "react-router";
import { App } from "./App.tsx";
import { createStore } from "./create-store.ts";
import { LookProvider } from "./look/look.tsx";
import "./styles.css";

createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <Provider store={createStore()}>
      <LookProvider>
        <BrowserRouter>
          <App />
        </BrowserRouter>
      </LookProvider>
    </Provider>
  </StrictMode>,
);
