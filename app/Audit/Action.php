<?php

declare(strict_types=1);

namespace App\Audit;

/**
 * What is written down, in the words of the list.
 */
enum Action: string
{
    case SignedIn = 'signed in';
    case Refused = 'sign-in refused';
    case SignedOut = 'signed out';
    case PasswordChanged = 'password changed';
    case SecondFactorOn = 'second factor set up';
    case SecondFactorOff = 'second factor removed';
    case SessionEnded = 'session ended';
    case Invited = 'person invited';
    case Joined = 'person joined';
    case InvitationTakenBack = 'invitation taken back';
    case RoleChanged = 'role changed';
    case GroupMade = 'group made';
    case GroupRenamed = 'group renamed';
    case GroupDeleted = 'group deleted';
    case GroupJoined = 'added to a group';
    case GroupLeft = 'taken out of a group';
    case SwitchedOff = 'person switched off';
    case SwitchedOn = 'person switched on';
    case ResetAsked = 'password link made';
    case PolicyChanged = 'second factor required';
    case SecretGiven = 'secret given';
    case SecretConfirmed = 'secret confirmed for a new address';
    case AccessChanged = 'access changed';
    case AddressChanged = 'address changed';
    case Published = 'source published';
    case SourceAdded = 'source added';
    case SourceDeleted = 'source deleted';
    case EndpointDeleted = 'endpoint deleted';
    case TablesForgotten = 'tables given up';
    case IndexAdded = 'index added';
    case IndexDropped = 'index dropped';
    case Paused = 'schedule paused';
    case Resumed = 'schedule resumed';
    case FollowedByPost = 'notes are posted';
    case EnvironmentChanged = 'environment changed';
    case QueryKept = 'query kept';
    case QueryNotKept = 'query not kept any more';
    case QueryDeleted = 'query deleted';
    case FeedPublished = 'feed published';
    case FeedChanged = 'feed changed';
    case FeedOff = 'feed turned off';
    case FeedDeleted = 'feed deleted';
    case KeyGiven = 'key given';
    case KeyWithdrawn = 'key withdrawn';
    case ReaderChanged = 'reader of feeds changed';
    case DoorGiven = 'account for tools given';
    case DoorWithdrawn = 'account for tools withdrawn';
    case ApprovalAsked = 'approval of changes asked for';
    case ChangesApproved = 'changes approved';
    case ChangeRightGiven = 'right to change given';
    case ChangeRightTaken = 'right to change taken back';
    case JournalExported = 'journal exported';
    case RefreshAsked = 'refresh asked for from outside';
    case Exported = 'rows exported';
    case HostAllowed = 'host allowed';
    case HostRefused = 'host taken back';
    case KeyRotated = 'key for secrets changed';
    case SecretsForgotten = 'secrets forgotten';
    case LogExported = 'log exported';
}
