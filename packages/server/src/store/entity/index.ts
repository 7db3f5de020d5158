import { CharterEntity, JobEntity, JournalEntity, OpenDraftEntity } from './charter.entity';
import { CompanyEntity } from './company.entity';
import { AnsweredRequestEntity, FormEntity, FormTokenEntity, IntakeKeyEntity } from './intake.entity';
import {
  PersonEntity,
  QueueEntity,
  QueueMemberEntity,
  RepLoadEntity,
  RotaEntity,
  SessionEntity,
  TeamEntity,
  TeamMemberEntity,
} from './people.entity';
import { ActivityKindEntity, FieldEntity, RateEntity } from './catalogue.entity';
import { FieldValueEntity } from './field-value.entity';
import { ActivityEntity, ChangeEntity, DecisionEntity, NoticeEntity } from './history.entity';
import { LeadEntity, RecordEntity } from './lead.entity';
import { SavedViewEntity } from './saved-view.entity';
import { SideScoreEntity } from './side-score.entity';

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
