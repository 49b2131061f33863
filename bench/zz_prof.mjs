// Findings of a plan that has everything: from nothing, against the same plan without its second half, and after an edit of each kind.
import { evaluate } from '@wide-lattice/core/evaluation';
import { emptyPlan } from '@wide-lattice/core/plan';
import { addOperation, kinds, setOperation, withFallbacks } from '@wide-lattice/core/plan';
import { median, row, scaled } from './measure.mjs';
import { apply, organisation } from './organisation.mjs';

const id = (kind, n) =>
  `019e0000-${kinds.indexOf(kind).toString(16).padStart(4, '0')}-7000-8000-${n.toString(16).padStart(12, '0')}`;
const add = (kind, n, fields) => addOperation(kind, withFallbacks(kind, { id: id(kind, n), ...fields }));
const each = (count, make) => Array.from({ length: count }, (_, n) => make(n));

/** What a cluster runs and what stands in front of it: 8 workloads and services, 6 routes, 4 records, a filter of 6 rules, a policy. */
function secondHalf({ id: clusterId, name }, c) {
  const host = `${name.replace(' ', '-')}.fleet.example`;
  const where = { clusterId, namespace: 'shop' };
  return [
    ...each(8, (n) =>
      add('workloads', 8 * c + n, {
        ...where,
        name: `app-${n}`,
        labels: [`app=app-${n}`],
        replicasNow: 2,
        replicasHorizon: 3,
        ports: ['http tcp 8080'],
      }),
    ),
    ...each(8, (n) =>
      add('services', 8 * c + n, {
        ...where,
        name: `app-${n}`,
        type: n === 0 ? 'NodePort' : 'ClusterIP',
        selector: [`app=app-${n}`],
        ports: [n === 0 ? `tcp 80 to http node ${30000 + n}` : 'tcp 80 to http'],
      }),
    ),
    add('controllers', c, { clusterId, name: `front ${c}`, classes: ['front'], serviceId: id('services', 8 * c) }),
    ...each(6, (n) =>
      add('ingressRoutes', 6 * c + n, {
        ...where,
        name: `route-${n}`,
        className: 'front',
        hosts: [host],
        path: `/a${n}`,
        pathType: 'Prefix',
        backends: [`app-${n + 1} 80`],
      }),
    ),
    ...each(4, (n) =>
      add('records', 4 * c + n, {
        zoneId: id('zones', 0),
        name: `r${n}.${name.replace(' ', '-')}`,
        type: 'A',
        value: `192.0.2.${(c + n) % 250}`,
        target: 'elsewhere',
      }),
    ),
    add('filters', c, { name: `filter ${c}`, clusterIds: [clusterId], defaultOut: 'allow' }),
    ...each(6, (n) =>
      add('filterRules', 6 * c + n, {
        filterId: id('filters', c),
        direction: 'in',
        position: 10 * (n + 1),
        action: 'allow',
        protocol: n === 0 ? 'icmp' : 'tcp',
        ports: n === 0 ? [] : [String(8000 + n)],
        peers: ['10.0.0.0/8'],
      }),
    ),
    add('networkPolicies', c, {
      ...where,
      name: 'only-http',
      selector: ['app=app-1'],
      directions: ['ingress'],
      allowIn: ['10.0.0.0/8 on tcp 8080'],
    }),
  ];
}

const bare = organisation(scaled(1000, 30), scaled(60, 8));
const plan = apply(
  apply(bare, [add('zones', 0, { name: 'out', apex: 'fleet.example', side: 'public', isDelegated: true })]),
  bare.clusters.flatMap(secondHalf),
);
const read = (evaluation) => evaluation.findings().length;
const rows = kinds.reduce((sum, kind) => sum + plan[kind].length, 0);


const proto = Object.getPrototypeOf(evaluate(emptyPlan({name:'x'})));
const orig = proto.ask; let stack=[]; let self=new Map();
proto.ask=function(sec){ if(this.built.has(sec)) return orig.call(this,sec); const t=performance.now(); stack.push(0); const r=orig.call(this,sec); const all=performance.now()-t; const kids=stack.pop(); self.set(sec.name,(self.get(sec.name)??0)+all-kids); if(stack.length)stack[stack.length-1]+=all; return r;};
const show=(label,n,top=14)=>{const l=[...self].sort((a,b)=>b[1]-a[1]).slice(0,top);const sum=[...self.values()].reduce((a,b)=>a+b,0);console.log('==',label,(sum/n).toFixed(1));console.log(l.map(([k,v])=>`   ${(v/n).toFixed(2)} ${k}`).join('\n'));self=new Map();};
for(let k=0;k<3;k++){self=new Map();const c=structuredClone(plan);read(evaluate(c));}
show('whole',1,25);
{self=new Map();const c=structuredClone(bare);read(evaluate(c));show('bare',1,12)}
let last=evaluate(plan);read(last);
const edits={clusters:(n)=>({ nodesHorizon: 30 + n }),allocations:(n) => ({ prefix: `10.${200 + n}.0.0/24` }),records: (n) => ({ value: `198.51.100.${n}` })};
for(const [kind,fields] of Object.entries(edits)){const step = Math.floor(plan[kind].length / 7);
const plans = each(6, (n) => apply(plan, [setOperation(kind, plan[kind][n * step + 3].id, fields(n))]));
for(let w=0;w<3;w++){self=new Map();for(const next of plans){read((last=evaluate(next,last)));read((last=evaluate(plan,last)))}}
show(kind,12);}
