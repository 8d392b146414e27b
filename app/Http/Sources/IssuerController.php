<?php

declare(strict_types=1);

namespace App\Http\Sources;

use App\Access\IssuerReader;
use App\Http\Editing\ChangeSequence;
use App\Models\Source;
use App\Sources\SourceStore;
use DeepSpring\SourceFile\InvalidSourceFile;
use Illuminate\Contracts\View\View;
use Illuminate\Http\Request;

/**
 * Addresses that an issuer of tokens publishes of itself.
 */
final class IssuerController extends SourcePage
{
    /**
     * Fills the addresses of a scheme from its issuer.
     */
    public function discover(Request $request, Source $source, SourceStore $store, IssuerReader $reader): View
    {
        $this->authorize('update', $source);
        $number = (int) $this->text('scheme');
        $issuer = $this->text('issuer') ?: (string) (request()->input("access.$number.issuer") ?? '');
        $named = SchemeFields::parsed($issuer);
        $variable = is_array($named) ? (string) ($named['variable'] ?? '') : null;
        $address = $variable === null ? $issuer : $source->current()->source()->variables($this->environment()->slug)[$variable] ?? '';
        $found = $reader->read($address);
        if ($found === []) {
            return $this->sheet($source, $source->current(), trouble: "Nothing under $issuer describes its addresses. Look for the issuer in the documentation, or fill the addresses by hand.");
        }
        try {
            $store->edit($source, $this->person(), static function (array $document) use ($request, $number, $named, $found): ?array {
                if ($request->has('bases') && ChangeSequence::of($request)?->isPast() !== true) {
                    $document['source'] = (new SourceForm($document['source']))->apply($request->all());
                }
                $entry = $document['source']['access'][$number] ?? null;
                if ($entry === null) {
                    return null;
                }
                $takes = $entry['scheme'] === 'oauth2-authorization-code' ? $found : array_diff_key($found, ['authorize_url' => 1, 'revoke_url' => 1]);
                $document['source']['access'][$number] = ['scheme' => $entry['scheme'], 'issuer' => $named] + $takes + $entry;

                return $document;
            });
        } catch (InvalidSourceFile $invalid) {
            return $this->sheet($source, $source->current(), trouble: implode(' ', array_map(strval(...), $invalid->faults)));
        }

        return $this->sheet($source, $source->refresh()->current());
    }
}
