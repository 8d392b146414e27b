<?php

declare(strict_types=1);

namespace App\Http\Endpoints\Step;

use App\Http\Editing\Asked;

/**
 * The steps there are. A new one is a class that implements `EndpointStep`, and a line here.
 */
final class EndpointSteps
{
    private const ALL = [
        AddInput::class, KeepAsTried::class, ProposeColumns::class, MakeInputsOfBody::class, StartBodyFromGet::class, ChangeRole::class,
        GiveSample::class, ForgetSample::class, ChooseRecords::class, UseProposedRecords::class, UseProposedPaging::class, AddColumn::class,
        NodeAsColumn::class, NodeAsTestValue::class, NodeAsCursor::class, UseOther::class, UseFreeName::class, InputsOfTable::class, Reshape::class,
    ];

    /**
     * The one that was asked for; null when only the fields were sent.
     */
    public static function chosen(Asked $asked): ?EndpointStep
    {
        foreach (self::ALL as $class) {
            if ($asked->text('do') === $class::name()) {
                return $class::of($asked);
            }
        }

        return null;
    }
}
