<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose;

use DeepSpring\Diagnose\Rule\BadRequest;
use DeepSpring\Diagnose\Rule\Busy;
use DeepSpring\Diagnose\Rule\ClosedDuringTls;
use DeepSpring\Diagnose\Rule\Denied;
use DeepSpring\Diagnose\Rule\GzipAbsent;
use DeepSpring\Diagnose\Rule\HiddenError;
use DeepSpring\Diagnose\Rule\Negotiated;
use DeepSpring\Diagnose\Rule\NoConnection;
use DeepSpring\Diagnose\Rule\NotFound;
use DeepSpring\Diagnose\Rule\NotQuiteJson;
use DeepSpring\Diagnose\Rule\PastedSecret;
use DeepSpring\Diagnose\Rule\PlainOnTls;
use DeepSpring\Diagnose\Rule\Redirected;
use DeepSpring\Diagnose\Rule\Rule;
use DeepSpring\Diagnose\Rule\Unauthorized;
use DeepSpring\Diagnose\Rule\WebPage;
use DeepSpring\Diagnose\Rule\WrongStatus;

/**
 * Asks every rule; the surest explains, the others stand beside it as less likely. Among equally
 * sure ones the order here decides, the more special first.
 */
final readonly class Diagnose
{
    private const MOST_OTHERS = 2;

    /** @var list<Rule> */
    private array $rules;

    public function __construct()
    {
        $this->rules = [
            new GzipAbsent, new PlainOnTls, new NoConnection, new ClosedDuringTls, new Redirected, new PastedSecret, new Unauthorized, new Denied, new NotFound, new BadRequest,
            new Negotiated, new Busy, new WebPage, new NotQuiteJson, new HiddenError, new WrongStatus,
        ];
    }

    public function exchange(Situation $situation): ?Diagnosis
    {
        $found = [];
        foreach ($this->rules as $rule) {
            $diagnosis = $rule->explain($situation);
            if ($diagnosis !== null) {
                $found[] = $diagnosis;
            }
        }
        if ($found === []) {
            return null;
        }
        // usort keeps the order of what is equal.
        usort($found, static fn (Diagnosis $left, Diagnosis $right): int => $right->sure->value <=> $left->sure->value);
        $main = array_shift($found);

        return $main->besides(array_slice(array_values(array_filter($found, static fn (Diagnosis $one): bool => $one->sure !== Sureness::General)), 0, self::MOST_OTHERS));
    }
}
