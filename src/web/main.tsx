import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { Provider } from "react-redux";
import { BrowserRouter } from "react-router";
import { App } from "./App.tsx";
import { LookProvider } from "./setup/look.tsx";
import { createStore } from "./store/store.ts";
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
