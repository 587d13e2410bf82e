import { somePassages } from "./core/test/any-passage.ts";
import { planPassage } from "./core/engine.ts";
const dbs:number[]=[]; 
for (const [i,p] of somePassages(1,300).entries()) { const plan=planPassage(p,{why:"nothing"}); for (const s of plan.steps) for (const x of s.strings) if (x.undampedDb!==null) {dbs.push(x.undampedDb); if (x.undampedDb>80) console.log(i,s.bar,s.at,x.string,x.undampedDb,x.causes, p.gain);} }
dbs.sort((a,b)=>a-b); console.log(dbs.at(-1), dbs[Math.floor(dbs.length*.99)]);
