<?php

declare(strict_types=1);

namespace App\Changes;

use App\Models\Change;
use App\Pipeline\ReadingFailed;
use App\Pipeline\SourceConnection;
use App\Transport\Sent;
use App\Transport\Transfer;
use DeepSpring\Ask\PageRequest;
use DeepSpring\Change\AskedChange;
use DeepSpring\Change\ChangeState;
use DeepSpring\Change\RecordAct;
use Psr\Http\Message\RequestInterface;

/**
 * One change on its way: first the record is looked at, then the change is sent, then it is looked at again where that
 * is needed.
 */
final class Flight
{
    public FlightStep $step = FlightStep::Write;

    public ?Transfer $transfer = null;

    /** Moment of the clock that only goes on, before which nothing leaves. */
    public float $at = 0.0;

    /** Since when it waits for others to travel with. */
    public ?float $ready = null;

    /** Of the present step. */
    public int $tries = 0;

    /** How often the change itself left. */
    public int $writes = 0;

    public int $generation = 0;

    public bool $isRenewed = false;

    /** Whether it is in a request with others just now, and whether the change itself ever was. */
    public bool $isBundled = false;

    public bool $travelled = false;

    /** Changes of which all were to be done or none, this among them. */
    public int $inOneSet = 1;

    /** Whether an earlier process may have sent it. */
    public bool $wasSent = false;

    /** The state that the service says the record has. */
    public ?string $etag = null;

    /** The record as it was seen last. */
    public ?SeenRecord $seen = null;

    /** What came of the change itself; null as long as it did not leave, or no answer came. */
    public ?Sent $written = null;

    public ?string $request = null;

    /** What it came to; null while it is on its way. */
    public ?ChangeState $outcome = null;

    public string $reason = '';

    /** @var array<string, string> by column */
    public array $faults = [];

    /** @var array<string, string|null>|null */
    public ?array $theirs = null;

    /** @var array<string, string|null> cells of the kept row that the answer of an action fills */
    public array $puts = [];

    /** Whether something was changed by it, and not only found to be so. */
    public bool $hasEffect = false;

    public function __construct(public readonly Change $change, public AskedChange $asked, public readonly bool $mayRepeat)
    {
    }

    /**
     * What is sent next: the change, or what looks at the record.
     *
     * @throws ReadingFailed
     */
    public function request(SourceConnection $connection, ChangeTable $table): RequestInterface
    {
        if ($this->step === FlightStep::Write) {
            $headers = $this->etag === null || $this->change->kind === RecordAct::Create ? [] : ['if-match' => $this->etag];

            return $connection->request($this->asked->bound->endpoint, $this->asked->values, new PageRequest(headers: $headers));
        }
        $get = $table->plan->get() ?? throw new \LogicException('Nothing gets a record.');

        return $connection->request($get->endpoint, $table->plan->getting(($this->change->key ?? []) + $this->change->before) ?? [], new PageRequest);
    }

    /**
     * By which it is known inside of a batch.
     */
    public function id(): string
    {
        return "c{$this->change->id}";
    }

    public function ends(ChangeState $outcome, string $reason = '', bool $hasEffect = false): void
    {
        $this->outcome = $outcome;
        $this->reason = $reason;
        $this->hasEffect = $hasEffect;
    }

    public function goesOn(FlightStep $step, float $at = 0.0): void
    {
        if ($step !== $this->step) {
            $this->tries = 0;
        }
        $this->step = $step;
        $this->at = $at;
    }
}
