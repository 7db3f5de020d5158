import { type Charter, type Grade, gradeOfKeys } from '@relvik/core';
import { type EntityManager, In } from 'typeorm';
import { CharterEntity } from '../store/entity/charter.entity';
import type { ScoredEntity } from '../store/entity/scored.entity';
import { readGoverning } from '../store/governing';

/** A stored grade, and the charter that gave it. */
type Graded = Pick<ScoredEntity, 'scoreSet' | 'fitBand' | 'engagementBand'> & { readonly charter: number | null };

/** A grade as lists show it: its name, and the places of its bands. */
export interface ShownGrade {
  readonly grade: string | null;
  readonly fitBand: number | null;
  readonly engagementBand: number | null;
}

/** Puts stored grades into words: by the charter in force, or where that has not their bands by the one that gave them. */
export class ShownGrades {
  private constructor(
    private readonly inForce: Charter,
    private readonly past: ReadonlyMap<number, Charter>,
  ) {}

  static async of(manager: EntityManager, rows: readonly Graded[]): Promise<ShownGrades> {
    const { ready } = await readGoverning(manager, 'none');
    const unknown = rows.filter((row) => row.fitBand !== null && gradeIn(ready.charter, row) === null);
    const numbers = [...new Set(unknown.flatMap(({ charter }) => charter ?? []))];
    const past = numbers.length === 0 ? [] : await manager.findBy(CharterEntity, { number: In(numbers) });
    return new ShownGrades(ready.charter, new Map(past.map(({ number, body }) => [number ?? 0, body])));
  }

  shown(row: Graded): ShownGrade {
    const past = this.past.get(row.charter ?? 0);
    const found = gradeIn(this.inForce, row) ?? (past === undefined ? null : gradeIn(past, row));
    if (found === null) return { grade: null, fitBand: null, engagementBand: null };
    return { grade: found.name, fitBand: found.fit, engagementBand: found.engagement };
  }
}

function gradeIn(
  { scoreSets }: Charter,
  { scoreSet, fitBand, engagementBand }: Graded,
): Pick<Grade, 'fit' | 'engagement' | 'name'> | null {
  if (fitBand === null || engagementBand === null) return null;
  const set = scoreSets.find(({ key }) => key === scoreSet);
  return set === undefined ? null : gradeOfKeys(set.grid, { fit: fitBand, engagement: engagementBand });
}
