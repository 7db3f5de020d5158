import { FirstSchema1764000000000 } from './1764000000000-first-schema';
import { CharterLife1764100000000 } from './1764100000000-charter-life';
import { PopulationIndexes1764200000000 } from './1764200000000-population-indexes';
import { TimeAndActivities1764300000000 } from './1764300000000-time-and-activities';
import { ScoreSets1764400000000 } from './1764400000000-score-sets';
import { Companies1764500000000 } from './1764500000000-companies';
import { WorldStamp1764800000000 } from './1764800000000-world-stamp';
import { CompressedDecisions1764900000000 } from './1764900000000-compressed-decisions';
import { FewerValueIndexes1765000000000 } from './1765000000000-fewer-value-indexes';
import { LooksOfGates1765100000000 } from './1765100000000-looks-of-gates';
import { ReferenceCurrency1765200000000 } from './1765200000000-reference-currency';
import { SaidValues1765300000000 } from './1765300000000-said-values';
import { SharedLimits1765400000000 } from './1765400000000-shared-limits';
import { SightOfKeys1765500000000 } from './1765500000000-sight-of-keys';
import { SubjectsOfConditions1765600000000 } from './1765600000000-subjects-of-conditions';
import { DaysInStage1765700000000 } from './1765700000000-days-in-stage';
import { SeveralAtOnce1765800000000 } from './1765800000000-several-at-once';
import { KeysOfBands1765900000000 } from './1765900000000-keys-of-bands';
import { TieDueByCause1766400000000 } from './1766400000000-tie-due-by-cause';
import { PipelinesOfLeads1766500000000 } from './1766500000000-pipelines-of-leads';
import { PipelinesOfWaysIn1766700000000 } from './1766700000000-pipelines-of-ways-in';
import { EffectsOfGates1766800000000 } from './1766800000000-effects-of-gates';
import { OpenFor1766900000000 } from './1766900000000-open-for';
import { GatesOfDeals1767000000000 } from './1767000000000-gates-of-deals';
import { Regions1767100000000 } from './1767100000000-regions';
import { Spellings1767200000000 } from './1767200000000-spellings';
import { TeamsOfTerritories1767300000000 } from './1767300000000-teams-of-territories';
import { Redraws1767400000000 } from './1767400000000-redraws';
import { BayAndQueues1767700000000 } from './1767700000000-bay-and-queues';
import { Deputies1767800000000 } from './1767800000000-deputies';
import { Schedules1768000000000 } from './1768000000000-schedules';
import { Acceptance1768100000000 } from './1768100000000-acceptance';
import { Presence1768200000000 } from './1768200000000-presence';
import { Waiting1768300000000 } from './1768300000000-waiting';
import { DealsOfLeads1768500000000 } from './1768500000000-deals-of-leads';
import { Tasks1768400000000 } from './1768400000000-tasks';
import { Handling1767900000000 } from './1767900000000-handling';
import { GivenByHand1767600000000 } from './1767600000000-given-by-hand';
import { People1767500000000 } from './1767500000000-people';
import { Proposals1766600000000 } from './1766600000000-proposals';
import { GatesInFull1766300000000 } from './1766300000000-gates-in-full';
import { FilesOfKinds1766200000000 } from './1766200000000-files-of-kinds';
import { FieldsOfKinds1766000000000 } from './1766000000000-fields-of-kinds';
import { Ties1766100000000 } from './1766100000000-ties';
import { OneWriter1764700000000 } from './1764700000000-one-writer';
import { SideRanks1764600000000 } from './1764600000000-side-ranks';

/** In the order in which they run. */
export const MIGRATIONS = [
  FirstSchema1764000000000,
  CharterLife1764100000000,
  PopulationIndexes1764200000000,
  TimeAndActivities1764300000000,
  ScoreSets1764400000000,
  Companies1764500000000,
  SideRanks1764600000000,
  OneWriter1764700000000,
  WorldStamp1764800000000,
  CompressedDecisions1764900000000,
  FewerValueIndexes1765000000000,
  LooksOfGates1765100000000,
  ReferenceCurrency1765200000000,
  SaidValues1765300000000,
  SharedLimits1765400000000,
  SightOfKeys1765500000000,
  SubjectsOfConditions1765600000000,
  DaysInStage1765700000000,
  SeveralAtOnce1765800000000,
  KeysOfBands1765900000000,
  FieldsOfKinds1766000000000,
  Ties1766100000000,
  FilesOfKinds1766200000000,
  GatesInFull1766300000000,
  TieDueByCause1766400000000,
  PipelinesOfLeads1766500000000,
  Proposals1766600000000,
  PipelinesOfWaysIn1766700000000,
  EffectsOfGates1766800000000,
  OpenFor1766900000000,
  GatesOfDeals1767000000000,
  Regions1767100000000,
  Spellings1767200000000,
  TeamsOfTerritories1767300000000,
  Redraws1767400000000,
  People1767500000000,
  GivenByHand1767600000000,
  BayAndQueues1767700000000,
  Deputies1767800000000,
  Handling1767900000000,
  Schedules1768000000000,
  Acceptance1768100000000,
  Presence1768200000000,
  Waiting1768300000000,
  Tasks1768400000000,
  DealsOfLeads1768500000000,
];
