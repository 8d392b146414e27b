<?php

declare(strict_types=1);

namespace App\Http\Runs;

use App\Http\Controller;
use App\Models\Drift;
use App\Reservoir\TableStore;
use App\Runs\Runs;
use App\Runs\RunWish;
use App\Sources\SourceStore;
use DeepSpring\Flatten\Drift\Answers;
use Illuminate\Http\RedirectResponse;
use Illuminate\Support\Carbon;

/**
 * Answers to what changed in the records of an endpoint.
 */
final class DriftController extends Controller
{
    public function __construct(private readonly TableStore $tables)
    {
    }

    public function answer(Drift $drift, SourceStore $store, Runs $runs): RedirectResponse
    {
        $source = $drift->endpoint->source;
        $this->authorize('update', $source);
        $answer = $this->text('answer');
        abort_unless(in_array($answer, $drift->kind->answers(), true), 404);
        $wasDraft = $source->draft() !== null;
        $notice = 'Taken as it is now.';
        if ($answer !== 'accept') {
            $records = $answer === 'leave out' || $answer === 'drop column' ? [] : $this->records($drift);
            $store->edit($source, $this->person(), static function (array $document) use ($drift, $answer, $records): array {
                foreach ($document['endpoints'] ?? [] as $number => $one) {
                    if ($one['slug'] === $drift->endpoint->slug && isset($one['flatten'])) {
                        $document['endpoints'][$number]['flatten'] = (new Answers($one['flatten'], $records))->apply($answer, $drift->path);
                    }
                }

                return $document;
            });
            $notice = $this->publish($drift, $store, $runs, $wasDraft, $answer);
        }
        $drift->fill(['answer' => $answer, 'answered_at' => Carbon::now(), 'user_id' => $this->person()->id])->save();

        return redirect()->to(url()->previous(route('runs.index')))->with('notice', $notice);
    }

    /**
     * At once, where nothing else waits in the draft.
     */
    private function publish(Drift $drift, SourceStore $store, Runs $runs, bool $wasDraft, string $answer): string
    {
        $source = $drift->endpoint->source;
        if ($wasDraft) {
            return 'The plan is changed in the draft, beside what was changed there before. The tables are as they were: publish on the sheet of '.$drift->endpoint->name.' and make them again, which one press there does.';
        }
        $store->publish($source, $this->person());
        if ($answer === 'leave out') {
            return 'It is left out for good.';
        }
        $kept = $this->tables->pages($drift->environment, "e{$drift->endpoint_id}")->about();
        $run = $runs->queue($drift->endpoint->refresh(), $drift->environment, $this->person(), new RunWish(rebuild: $kept !== null));

        return 'The plan is changed, and run '.$run->id.($kept === null ? ' reads the tables again.' : ' makes the tables from the kept pages.');
    }

    /**
     * Records in which the change was seen: those of the kept pages, up to some thousand.
     *
     * @return list<mixed>
     */
    private function records(Drift $drift): array
    {
        $definition = $drift->endpoint->source->current()->endpoint($drift->endpoint->slug) ?? abort(404);
        $kept = $this->tables->pages($drift->environment, "e{$drift->endpoint_id}");
        $records = [];
        foreach ($kept->about() === null ? [] : $kept->pages() as [$type, $body]) {
            array_push($records, ...$definition->answer()->pageOf($definition->answer()->read($body, $type))->values);
            if (count($records) >= 5000) {
                break;
            }
        }

        return $records;
    }
}
