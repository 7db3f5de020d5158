import { key, list, object, oneOf, type Read, text } from '../document/read-json';
import { MAX_PROPERTY_VALUES, PROPERTY_TESTS, type PropertyTest } from './property-test';

/** Reads what is asked of the properties of an activity: at most ten tests, each with at least one value. */
export const readHaving: Read<readonly PropertyTest[]> = list(
  object<PropertyTest>({
    property: key(),
    test: oneOf(PROPERTY_TESTS),
    values: list(text({ most: 500 }), { least: 1, most: MAX_PROPERTY_VALUES }),
  }),
  { most: 10 },
);
