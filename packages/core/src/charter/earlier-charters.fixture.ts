import { type SMALL_CHARTER } from './charter.fixture';

type SmallCharter = typeof SMALL_CHARTER;

/** A charter as version 3 wrote it: no pipeline for deals. */
export function asVersion3({ pipelines, ...rest }: SmallCharter) {
  return { ...rest, version: 3, pipelines: pipelines.slice(0, 1) };
}

/** A charter as version 2 wrote it: bands by name, stages and entry beside each other, one last resort. */
export function asVersion2({ pipelines, lastResort, scoreSets, ...rest }: SmallCharter) {
  const bandsByName = ({ bands, cuts }: SmallCharter['scoreSets'][number]['grid']['fit']) => ({
    names: bands.map(({ name }) => name),
    cuts,
  });
  return {
    ...rest,
    version: 2,
    stages: pipelines[0]!.stages,
    entry: pipelines[0]!.entry,
    scoreSets: scoreSets.map((set) => ({
      ...set,
      grid: { ...set.grid, fit: bandsByName(set.grid.fit), engagement: bandsByName(set.grid.engagement) },
    })),
    lastResort: lastResort.lead,
  };
}

/** The same as version 1 wrote it, which had one score set. */
export function asVersion1(charter: SmallCharter) {
  const { scoreSets, ...rest } = asVersion2(charter);
  return { ...rest, version: 1, scoreSet: scoreSets[0] };
}
