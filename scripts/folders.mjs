// Folders of a package import each other downwards only, in the order given here, lowest first. What still goes up is
// listed: nothing may be added, and what is gone must be taken from the list.
import { cruise } from 'dependency-cruiser';
import { ROOT } from './build.mjs';

const PACKAGES = {
  core: {
    order:
      'document grade record calendar activity column people method condition signal score territory task deal gate route fairness wording charter decide reasoning finding sweep impact party .',
    upwards: [],
  },
  server: {
    order:
      'problem store thread session act intake charter outbox doctor job list watershed reasoning population http endpoint demo .',
    upwards: [],
  },
  web: {
    order:
      'ui api session wording people record task background charter home intake impact condition tracer frame list lead bay fairness week enact territory score gate grade catalogue proposal route kinds .',
    upwards: [],
  },
};

const TEST = /\.spec\.ts$|\.fixture\.ts$|\/jest-setup\.ts$/;

/** The folder of a file below a package's src: `.` for the files that lie there themselves. */
function folderOf(file, src) {
  const [first, ...rest] = file.slice(src.length + 1).split('/');
  return rest.length === 0 ? '.' : first;
}

let wrong = 0;
for (const [name, { order, upwards }] of Object.entries(PACKAGES)) {
  const src = `packages/${name}/src`;
  const folders = order.split(' ');
  const { output } = await cruise(
    [src],
    {
      baseDir: ROOT,
      doNotFollow: { path: 'node_modules|/dist/' },
      exclude: { path: '\\.gen\\.ts$' },
      tsPreCompilationDeps: true,
    },
    {},
  );
  const going = new Map();
  for (const { source, dependencies } of output.modules) {
    if (!source.startsWith(`${src}/`) || TEST.test(source)) continue;
    const from = folderOf(source, src);
    if (!folders.includes(from)) going.set(`${from} has no place in the order`, source);
    for (const { resolved } of dependencies) {
      if (!resolved.startsWith(`${src}/`)) continue;
      const to = folderOf(resolved, src);
      if (from !== to && folders.indexOf(to) > folders.indexOf(from))
        going.set(`${from} → ${to}`, `${source} imports ${resolved}`);
    }
  }
  for (const [what, where] of going)
    if (!upwards.includes(what)) {
      console.error(`${name}: ${what}: ${where}`);
      wrong += 1;
    }
  for (const what of upwards)
    if (!going.has(what)) {
      console.error(`${name}: ${what} is gone: take it from the list in scripts/folders.mjs`);
      wrong += 1;
    }
  console.log(
    `${name}: ${output.modules.filter(({ source }) => source.startsWith(src)).length} files, ${upwards.length} of the imports between folders still go up`,
  );
}
process.exit(wrong === 0 ? 0 : 1);
