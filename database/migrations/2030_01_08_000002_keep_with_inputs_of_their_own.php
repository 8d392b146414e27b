<?php

declare(strict_types=1);

use App\Models\Endpoint;
use DeepSpring\SourceFile\KeptInputs;
use DeepSpring\SourceFile\SourceFile;
use DeepSpring\Value\JsonSubtrees;
use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/*
 * Tables were read with the values to try with. Those become what they are read with, so that they stay
 * as they are; the sheets of these endpoints say so until somebody has seen it.
 */
return new class extends Migration
{
    public function up(): void
    {
        Schema::table('endpoints', function (Blueprint $table): void {
            $table->boolean('inputs_taken_over')->default(false);
        });
        $taken = [];
        foreach (DB::table('source_documents')->orderBy('id')->pluck('id') as $id) {
            $row = DB::table('source_documents')->where('id', $id)->first(['source_id', 'document']);
            $document = (array) JsonSubtrees::decoded((string) $row?->document);
            $slugs = [];
            foreach ($document['endpoints'] ?? [] as $number => $endpoint) {
                $inputs = isset($endpoint['flatten']) ? KeptInputs::fromTestValues($endpoint) : [];
                if ($inputs !== []) {
                    $document['endpoints'][$number]['keep']['inputs'] = $inputs;
                    $slugs[] = $endpoint['slug'];
                }
            }
            if ($slugs !== []) {
                DB::table('source_documents')->where('id', $id)->update(['document' => SourceFile::trusted($document)->json()]);
                $taken[$row?->source_id] = array_unique([...$taken[$row?->source_id] ?? [], ...$slugs]);
            }
        }
        foreach ($taken as $source => $slugs) {
            Endpoint::query()->where('source_id', $source)->whereIn('slug', $slugs)->whereHas('tables')->update(['inputs_taken_over' => true]);
        }
    }
};
