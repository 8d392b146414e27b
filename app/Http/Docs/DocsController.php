<?php

declare(strict_types=1);

namespace App\Http\Docs;

use App\Http\Controller;
use App\Imports\DocumentationPage;
use App\Models\Secret;
use App\Models\Source;
use App\Secrets\Vault;
use App\Sources\SourceStore;
use DeepSpring\Access\SecretMask;
use DeepSpring\Describe\CannotDescribe;
use DeepSpring\SourceFile\InvalidSourceFile;
use Illuminate\Contracts\View\View;

/**
 * The documentation of a provider beside the sheets of its source.
 */
final class DocsController extends Controller
{
    public function __construct(private readonly Vault $vault)
    {
    }

    public function show(Source $source): View
    {
        $this->authorize('view', $source);

        return $this->pane($source);
    }

    /**
     * Links and notes, of the source or of the endpoint whose sheet is open.
     */
    public function update(Source $source, SourceStore $store): View
    {
        $this->authorize('update', $source);
        $links = [];
        foreach (explode("\n", str_replace("\r", '', is_string(request('links')) ? request('links') : '')) as $line) {
            [$url, $title] = preg_split('/\s+/', trim($line), 2) + [1 => ''];
            if ($url !== '') {
                $links[] = array_filter(['title' => $title, 'url' => $url], static fn (string $one): bool => $one !== '');
            }
        }
        $notes = trim(str_replace("\r", '', is_string(request('notes')) ? request('notes') : ''));
        $docs = array_filter(['links' => $links, 'notes' => $notes], static fn (mixed $one): bool => $one !== [] && $one !== '');
        $of = $this->text('of') === 'endpoint' ? $this->text('endpoint') : '';

        return $this->changed($source, $store, static function (array $document) use ($of, $docs): array {
            if ($of === '') {
                $document['source'] = self::with($document['source'], $docs + array_intersect_key($document['source']['docs'] ?? [], ['pages' => 1]));
            }
            foreach ($document['endpoints'] ?? [] as $number => $one) {
                if ($of !== '' && $one['slug'] === $of) {
                    $document['endpoints'][$number] = self::with($one, $docs + array_intersect_key($one['docs'] ?? [], ['pages' => 1]));
                }
            }

            return $document;
        });
    }

    /**
     * A page is kept with the source: from its address, or as it was pasted. One from the same address takes
     * the place of the one before.
     */
    public function keep(Source $source, SourceStore $store, DocumentationPage $pages): View
    {
        $this->authorize('update', $source);
        $given = trim(is_string(request('page_text')) ? request('page_text') : '');
        if ($given === '') {
            return $this->pane($source, 'Give the address of a page, or paste it.');
        }
        try {
            $page = preg_match('~^https?://\S+$~i', $given) === 1 ? $pages->fetched($given) : $pages->pasted($given, $this->text('page_title'));
        } catch (CannotDescribe $cannot) {
            return $this->pane($source, implode(' ', $cannot->sentences));
        }

        return $this->changed($source, $store, static function (array $document) use ($page): array {
            $docs = $document['source']['docs'] ?? [];
            $others = array_filter($docs['pages'] ?? [], static fn (array $one): bool => ! isset($page['url']) || ($one['url'] ?? '') !== $page['url']);
            $document['source'] = self::with($document['source'], ['pages' => [$page, ...array_values($others)]] + $docs);

            return $document;
        });
    }

    public function forget(Source $source, int $number, SourceStore $store): View
    {
        $this->authorize('update', $source);

        return $this->changed($source, $store, static function (array $document) use ($number): array {
            $docs = $document['source']['docs'] ?? [];
            unset($docs['pages'][$number]);
            $pages = array_values($docs['pages'] ?? []);
            $document['source'] = self::with($document['source'], ($pages === [] ? [] : ['pages' => $pages]) + array_diff_key($docs, ['pages' => 1]));

            return $document;
        });
    }

    /**
     * @param  array<string, mixed>  $one  of a source file
     * @param  array<string, mixed>  $docs
     * @return array<string, mixed>
     */
    private static function with(array $one, array $docs): array
    {
        return array_diff_key($one, ['docs' => 1]) + ($docs === [] ? [] : ['docs' => $docs]);
    }

    /**
     * @param  \Closure(array<string, mixed>): array<string, mixed>  $change
     */
    private function changed(Source $source, SourceStore $store, \Closure $change): View
    {
        try {
            $store->edit($source, $this->person(), fn (array $document): array => $this->withoutSecrets($source, $change($document)));
        } catch (InvalidSourceFile $invalid) {
            return $this->pane($source, str_contains($invalid->faults[0]->path, 'links') ? 'A link is an address, and its title after it: https://docs.saltmarsh.example/loans Loans.' : ucfirst($invalid->faults[0]->message).'.');
        }

        return $this->pane($source->refresh());
    }

    /**
     * A page of a provider may show the very key that somebody works with: the file of a source never holds it.
     *
     * @param  array<string, mixed>  $document
     * @return array<string, mixed>
     */
    private function withoutSecrets(Source $source, array $document): array
    {
        $secrets = Secret::query()->where('source_id', $source->id)->get()->map(fn (Secret $one): string => $this->vault->open($one))->all();
        $mask = new SecretMask(array_values($secrets));
        $clean = static function (array $docs) use ($mask): array {
            array_walk_recursive($docs, static function (mixed &$one) use ($mask): void {
                $one = is_string($one) ? $mask->apply($one) : $one;
            });

            return $docs;
        };
        isset($document['source']['docs']) && $document['source']['docs'] = $clean($document['source']['docs']);
        foreach ($document['endpoints'] ?? [] as $number => $one) {
            isset($one['docs']) && $document['endpoints'][$number]['docs'] = $clean($one['docs']);
        }

        return $document;
    }

    private function pane(Source $source, ?string $fault = null): View
    {
        return view('docs.pane', ['pane' => new DocsPane($source, $this->text('endpoint'), $this->text('q'), (int) $this->text('page'), $fault), 'typed' => $fault === null ? [] : request()->only(['links', 'notes', 'of', 'page_text', 'page_title'])]);
    }
}
