import { key, list, oneOf, type Read, readObject, text } from '../document/read-json';
import { MAX_PROPERTY_VALUES, PROPERTY_TESTS, type PropertyTest } from './property-test';

/** Reads what is asked of the properties of an activity: at most ten tests, each with at least one value. */
export const readHaving: Read<readonly PropertyTest[]> = list(
  (json, spot) =>
    readObject<PropertyTest>(json, spot, {
      property: key(),
      test: oneOf(PROPERTY_TESTS),
      values: list(text({ most: 500 }), { least: 1, most: MAX_PROPERTY_VALUES }),
    }),
  { most: 10 },
);
