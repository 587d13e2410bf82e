import { buildPage, buildServer, installPackages } from "./prepare.mjs";

// npm start: own data. npm run demo: demo data. Installs and builds what is missing first.
installPackages();
buildPage();
buildServer();
await import("../build/server/serve.js");
