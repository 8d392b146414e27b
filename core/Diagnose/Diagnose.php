<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose;

use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Answer\UnreadableKind;
use DeepSpring\Diagnose\Rule\NoConnection;
use DeepSpring\Diagnose\Rule\Redirected;
use DeepSpring\Diagnose\Rule\Rule;
use DeepSpring\Diagnose\Rule\Unauthorized;
use DeepSpring\Diagnose\Rule\WrongStatus;

/**
 * The first rule that recognises a situation explains it.
 */
final readonly class Diagnose
{
    /** @var list<Rule> */
    private array $rules;

    public function __construct()
    {
        $this->rules = [new NoConnection, new Redirected, new Unauthorized, new WrongStatus];
    }

    public function exchange(Situation $situation): ?Diagnosis
    {
        foreach ($this->rules as $rule) {
            $diagnosis = $rule->explain($situation);
            if ($diagnosis !== null) {
                return $diagnosis;
            }
        }

        return null;
    }

    /**
     * An answer with a status that is a success and a body that is not.
     */
    public function unreadable(UnreadableAnswer $answer, string $contentType): Diagnosis
    {
        $type = $contentType === '' ? 'no content type' : $contentType;

        return match ($answer->kind) {
            UnreadableKind::Empty => new Diagnosis('empty', 'The answer is a success, but its body is empty.', 'Check the path and the inputs; some services answer so when a filter matches nothing.', 'answer'),
            UnreadableKind::Html => new Diagnosis('html', $answer->getMessage(), 'A sign-in page or a proxy probably answered instead of the API. Check the base address: APIs often live under another host or path than the website.', 'address'),
            UnreadableKind::NotJson => new Diagnosis('not-json', $answer->getMessage(), "The service calls it $type. Check the path, and whether it needs an accept header to answer in JSON.", 'answer'),
        };
    }
}
