import { sweepFigures } from './sweep.bench';

for (const count of process.argv.slice(2).map(Number)) {
  console.log(count);
  for (const figure of sweepFigures(count))
    console.log(
      `  ${figure.id} ${figure.what}: ${figure.median} (${figure.range}), goal ${figure.goal}, ${figure.reached ? 'reached' : 'NOT reached'}`,
    );
}
