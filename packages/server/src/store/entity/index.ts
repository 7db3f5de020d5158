import { CharterEntity, JobEntity, JournalEntity, OpenDraftEntity } from './charter.entity';
import { CompanyEntity, CompanyKeyEntity, NoCompanyEntity } from './company.entity';
import { ContactAliasEntity, ContactEntity } from './contact.entity';
import { DealEntity } from './deal.entity';
import { JoinedPartyEntity } from './joined-party.entity';
import { StreamRunEntity, StreamScheduleEntity } from './stream-run.entity';
import { SuggestionEntity } from './suggestion.entity';
import { TaskEntity } from './task.entity';
import { TieDueEntity } from './tie-due.entity';
import {
  AnsweredRequestEntity,
  FormEntity,
  FormSecretEntity,
  IntakeKeyEntity,
  SentLeadEntity,
  WayInEntity,
} from './intake.entity';
import {
  PersonEntity,
  QueueEntity,
  QueueMemberEntity,
  RepLoadEntity,
  RepSeenEntity,
  RequestCountEntity,
  RotaEntity,
  SkillListEntity,
  SessionEntity,
  SignInPauseEntity,
  TeamEntity,
  TeamMemberEntity,
} from './people.entity';
import {
  ActivityKindEntity,
  FieldEntity,
  OptionListEntity,
  OwnRegionEntity,
  RateEntity,
  ReferenceCurrencyEntity,
  SpellingCorrectionEntity,
  SpellingEntity,
  TagEntity,
} from './catalogue.entity';
import { DoctorReportEntity } from './doctor-report.entity';
import { FailureEntity } from './failure.entity';
import { FieldValueEntity } from './field-value.entity';
import { ActivityEntity, ChangeEntity, DecisionEntity, NoticeEntity } from './history.entity';
import { ImportFileEntity, ImportRowEntity } from './import.entity';
import { BayAlarmEntity, BayToldEntity } from './bay.entity';
import { JoinedLeadEntity } from './joined-lead.entity';
import { LeadEntity, RecordEntity } from './lead.entity';
import { OutboxEntity } from './outbox.entity';
import { ProposalEntity } from './proposal.entity';
import { RedrawEntity, RedrawMoveEntity } from './redraw.entity';
import { SavedViewEntity } from './saved-view.entity';
import { SaidValueEntity } from './said-value.entity';
import { SideScoreEntity } from './side-score.entity';
import { WorldStampEntity } from './world-stamp.entity';

export const ENTITIES = [
  BayAlarmEntity,
  BayToldEntity,
  RecordEntity,
  LeadEntity,
  ContactEntity,
  ContactAliasEntity,
  CompanyEntity,
  CompanyKeyEntity,
  NoCompanyEntity,
  DealEntity,
  TaskEntity,
  TieDueEntity,
  SuggestionEntity,
  JoinedPartyEntity,
  RequestCountEntity,
  SaidValueEntity,
  SignInPauseEntity,
  SideScoreEntity,
  RedrawEntity,
  RedrawMoveEntity,
  SpellingEntity,
  SpellingCorrectionEntity,
  OwnRegionEntity,
  FieldValueEntity,
  ActivityEntity,
  ChangeEntity,
  DecisionEntity,
  NoticeEntity,
  OutboxEntity,
  ProposalEntity,
  WorldStampEntity,
  FailureEntity,
  DoctorReportEntity,
  ImportFileEntity,
  ImportRowEntity,
  JoinedLeadEntity,
  FieldEntity,
  OptionListEntity,
  TagEntity,
  RateEntity,
  ReferenceCurrencyEntity,
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
  RepSeenEntity,
  RotaEntity,
  SkillListEntity,
  SessionEntity,
  IntakeKeyEntity,
  AnsweredRequestEntity,
  FormEntity,
  FormSecretEntity,
  SentLeadEntity,
  WayInEntity,
  StreamRunEntity,
  StreamScheduleEntity,
];
