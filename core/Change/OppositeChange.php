<?php

declare(strict_types=1);

namespace DeepSpring\Change;

/**
 * What takes a change back.
 */
final class OppositeChange
{
    /**
     * The change that takes another one back, as far as there is one.
     *
     * @param  array<string, string|null>  $now  the row as it is now; empty where there is none
     * @return array{RecordChange|null, list<string>} with what cannot be restored
     */
    public static function of(ChangePlan $plan, RecordChange $done, array $now): array
    {
        if ($done->kind === RecordAct::Create) {
            return $plan->can(RecordAct::Delete) ? [new RecordChange(RecordAct::Delete, $now), []] : [null, ['Nothing deletes a record of this table.']];
        }
        if ($done->kind === RecordAct::Delete) {
            $changeable = $plan->changeable();
            $lost = array_keys(array_filter($done->before, static fn (?string $value, string $name): bool => $value !== null && ! ($changeable[$name]->inCreate ?? false), ARRAY_FILTER_USE_BOTH));

            return $plan->can(RecordAct::Create) ? [new RecordChange(RecordAct::Create, [], array_filter(array_intersect_key($done->before, array_filter($changeable, static fn (ChangeableColumn $one): bool => $one->inCreate)), static fn (?string $value): bool => $value !== null)), $lost === [] ? [] : ['A new record cannot be given '.implode(', ', $lost).': the service decides on '.(count($lost) === 1 ? 'it' : 'them').'.']] : [null, ['Nothing creates a record of this table.']];
        }

        return match ($done->kind) {
            RecordAct::Update => $now === [] ? [null, ['The record is no longer there.']] : [new RecordChange(RecordAct::Update, $now, array_intersect_key($done->before, $done->after)), []],
            RecordAct::Call => [null, ['What was called has no opposite that is known here.']],
        };
    }
}
