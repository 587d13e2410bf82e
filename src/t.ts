import { somePassages } from "./core/test/any-passage.ts";
import { planPassage } from "./core/engine.ts";
let bad=0, steps=0, t=performance.now(); const errs=new Map<string,number>();
const walk=(x:any,p:string):string|null=>{ if(x===undefined) return p+"=undefined"; if(typeof x==="number"&&!Number.isFinite(x)) return p+"="+x; if(x&&typeof x==="object") for(const [k,v] of Object.entries(x)){const r=walk(v,p+"/"+(Array.isArray(x)?"*":k)); if(r) return r;} return null; };
const ps = somePassages(1,600);
console.log("gen",performance.now()-t);
for (const [i,p] of ps.entries()) { try { const plan=planPassage(p,{why:"nothing"}); steps+=plan.steps.length; let w=walk(plan,""); if(!w) for(const s of plan.steps) if(!(s.lengthMs>0)) {w="step length "+(s.lengthMs<0?"<0":"=0");break;} if(w){bad++; errs.set(w,(errs.get(w)??0)+1); if(errs.get(w)===1) console.log(i,w);} } catch(e:any){bad++; const m=e.message.slice(0,80); errs.set(m,(errs.get(m)??0)+1); if(errs.get(m)===1) console.log(i,e.stack.split("\n").slice(0,5).join("\n"));} }
console.log(bad,steps,[...errs], performance.now()-t);
