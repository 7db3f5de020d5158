/**
 * The reasons for which Relvik looks at a record. When a charter comes into force: `enacted` scores and grades, `regated` runs gates
 * too, `rerouted` also routes what has no owner. `tie-changed`: its contact or company changed in what is read of them. `moved`: a hand moved it to another stage; `accepted`: a person took what a gate picked. `handed-on`: a person lets routes give it to whom they do now. `given`: a person gave it to a route or team. `scheduled`: a stream runs by its schedule. `given-back`: an owner who was asked to accept it gave it back. `overdue`: the manager who was to hand it on did not in time. `looked-at` changes nothing: it answers "what would be decided now".
 */
export const OCCASIONS = [
  'created',
  'joined',
  'edited',
  'activity',
  'time',
  'tie-changed',
  'freed',
  'moved',
  'accepted',
  'enacted',
  'regated',
  'rerouted',
  'handed-on',
  'given',
  'scheduled',
  'overdue',
  'given-back',
  'looked-at',
] as const;
export type Occasion = (typeof OCCASIONS)[number];
