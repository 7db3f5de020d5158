import { CharterEntity, JobEntity, JournalEntity, OpenDraftEntity } from '../charter/charter.entity';
import { CompanyEntity } from '../company/company.entity';
import { AnsweredRequestEntity, FormEntity, FormTokenEntity, IntakeKeyEntity } from '../intake/intake.entity';
import {
  PersonEntity,
  QueueEntity,
  QueueMemberEntity,
  RepLoadEntity,
  RotaEntity,
  SessionEntity,
  TeamEntity,
  TeamMemberEntity,
} from '../people/people.entity';
import { ActivityKindEntity, FieldEntity, RateEntity } from '../record/catalogue.entity';
import { FieldValueEntity } from '../record/field-value.entity';
import { ActivityEntity, ChangeEntity, DecisionEntity, NoticeEntity } from '../record/history.entity';
import { LeadEntity, RecordEntity } from '../record/lead.entity';
import { SavedViewEntity } from '../record/saved-view.entity';
import { SideScoreEntity } from '../record/side-score.entity';

export const ENTITIES = [
  RecordEntity,
  LeadEntity,
  CompanyEntity,
  SideScoreEntity,
  FieldValueEntity,
  ActivityEntity,
  ChangeEntity,
  DecisionEntity,
  NoticeEntity,
  FieldEntity,
  RateEntity,
  ActivityKindEntity,
  SavedViewEntity,
  CharterEntity,
  JobEntity,
  OpenDraftEntity,
  JournalEntity,
  PersonEntity,
  TeamEntity,
  TeamMemberEntity,
  QueueEntity,
  QueueMemberEntity,
  RepLoadEntity,
  RotaEntity,
  SessionEntity,
  IntakeKeyEntity,
  AnsweredRequestEntity,
  FormEntity,
  FormTokenEntity,
];
