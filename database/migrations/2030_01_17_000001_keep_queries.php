<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::table('queries', function (Blueprint $table): void {
            $table->text('description')->nullable();
            $table->json('labels')->nullable();
            $table->json('parameters')->nullable();
            $table->unsignedInteger('version')->default(1);
            $table->boolean('is_private')->default(false);
            // What may stand once: names of shared queries, and those that a person keeps to themselves.
            $table->string('name_key', 230)->nullable();
        });
        Schema::create('query_versions', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('query_id')->constrained()->cascadeOnDelete();
            $table->unsignedInteger('number');
            $table->longText('sql');
            $table->json('parameters')->nullable();
            $table->foreignId('user_id')->nullable()->constrained()->nullOnDelete();
            $table->timestamps(6);
            $table->unique(['query_id', 'number']);
        });
        Schema::create('query_drafts', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('user_id')->constrained()->cascadeOnDelete();
            $table->foreignId('query_id')->nullable()->constrained()->cascadeOnDelete();
            $table->longText('sql');
            $table->json('parameters')->nullable();
            $table->unsignedInteger('based_on');
            $table->unsignedInteger('revision');
            $table->timestamps(6);
            $table->index(['user_id', 'query_id']);
        });
        Schema::create('query_keeps', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('query_id')->constrained();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->foreignId('source_id')->constrained()->cascadeOnDelete();
            $table->boolean('is_view');
            $table->string('name', 64);
            $table->unsignedInteger('version');
            $table->json('reads');
            $table->string('fault', 1000)->nullable();
            $table->timestamps(6);
            $table->unique(['query_id', 'environment_id']);
            $table->unique(['environment_id', 'name']);
        });
        Schema::table('sources', function (Blueprint $table): void {
            $table->boolean('of_query')->default(false);
        });
        Schema::table('kept_tables', function (Blueprint $table): void {
            $table->boolean('is_view')->default(false);
        });
        $this->takeOver();
        Schema::table('queries', function (Blueprint $table): void {
            $table->string('name_key', 230)->nullable(false)->change();
            $table->unique('name_key');
        });
    }

    /**
     * Queries that bear the same name get a number; what stands is their first version.
     */
    private function takeOver(): void
    {
        $taken = [];
        foreach (DB::table('queries')->orderBy('id')->get(['id', 'name', 'sql', 'user_id', 'created_at', 'updated_at']) as $query) {
            for ($name = $query->name, $number = 2; isset($taken[mb_strtolower($name)]); $number++) {
                $name = "$query->name ($number)";
            }
            $taken[mb_strtolower($name)] = true;
            DB::table('queries')->where('id', $query->id)->update(['name' => mb_substr($name, 0, 190), 'name_key' => mb_strtolower(mb_substr($name, 0, 200)), 'labels' => '[]']);
            DB::table('query_versions')->insert(['query_id' => $query->id, 'number' => 1, 'sql' => $query->sql, 'user_id' => $query->user_id, 'created_at' => $query->created_at, 'updated_at' => $query->updated_at]);
        }
    }
};
