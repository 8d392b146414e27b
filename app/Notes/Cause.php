<?php

declare(strict_types=1);

namespace App\Notes;

use App\Models\NoteKind;
use Illuminate\Support\Carbon;

/**
 * Something that is wrong now and that people should know of.
 */
final readonly class Cause
{
    /**
     * @param  string  $of  what of the kind it is, the same as long as it lasts: "e12", "s3 key"
     * @param  string  $title  the thing concerned
     * @param  string  $sentence  what is wrong
     * @param  string  $link  path of the page where something can be done
     * @param  Carbon  $since  when it began, as far as that is known
     * @param  string|null  $forReaders  the sentence for those who may not see sources; null where it is none of theirs
     * @param  string|null  $advice  what would help
     * @param  string|null  $meanwhile  what readers see
     */
    public function __construct(
        public NoteKind $kind,
        private string $of,
        public string $title,
        public string $sentence,
        public string $link,
        public Carbon $since,
        public ?int $source = null,
        public ?int $endpoint = null,
        public ?string $table = null,
        public ?string $forReaders = null,
        public ?string $advice = null,
        public ?string $meanwhile = null,
    ) {
    }

    public function mark(): string
    {
        return mb_strimwidth("{$this->kind->value} $this->of", 0, 160);
    }
}
