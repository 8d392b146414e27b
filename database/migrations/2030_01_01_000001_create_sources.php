<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::create('sources', function (Blueprint $table): void {
            $table->id();
            $table->string('slug', 64)->unique();
            $table->string('name', 190);
            $table->foreignId('owner_id')->nullable()->constrained('users')->nullOnDelete();
            $table->unsignedInteger('published_version')->nullable();
            $table->timestamps(6);
        });
        // One row a published version, never changed; the draft is the row without a version.
        Schema::create('source_documents', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('source_id')->constrained()->cascadeOnDelete();
            $table->unsignedInteger('version')->nullable();
            $table->longText('document');
            $table->foreignId('author_id')->nullable()->constrained('users')->nullOnDelete();
            $table->timestamps(6);
            $table->unique(['source_id', 'version']);
        });
        Schema::create('endpoints', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('source_id')->constrained()->cascadeOnDelete();
            $table->string('slug', 64);
            $table->string('name', 190);
            $table->timestamps(6);
            $table->unique(['source_id', 'slug']);
        });
        Schema::create('secrets', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('source_id')->constrained()->cascadeOnDelete();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->string('name', 64);
            $table->text('sealed');
            $table->foreignId('set_by')->nullable()->constrained('users')->nullOnDelete();
            $table->timestamps(6);
            $table->unique(['source_id', 'environment_id', 'name']);
        });
        Schema::create('tries', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('source_id')->constrained()->cascadeOnDelete();
            $table->foreignId('endpoint_id')->nullable()->constrained()->cascadeOnDelete();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->foreignId('user_id')->nullable()->constrained()->nullOnDelete();
            $table->boolean('succeeded');
            $table->unsignedInteger('milliseconds');
            $table->unsignedInteger('records');
            $table->string('ended', 500)->nullable();
            $table->json('diagnosis')->nullable();
            $table->json('strata');
            $table->timestamps(6);
            $table->index(['endpoint_id', 'environment_id', 'id']);
            $table->index(['source_id', 'environment_id', 'id']);
        });
        Schema::create('exchanges', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('try_id')->nullable()->constrained()->cascadeOnDelete();
            $table->unsignedBigInteger('run_id')->nullable()->index();
            $table->unsignedInteger('number');
            $table->longText('request');
            $table->unsignedSmallInteger('status')->nullable();
            $table->longText('headers');
            $table->unsignedBigInteger('bytes');
            $table->unsignedInteger('records')->nullable();
            $table->json('timing');
            $table->text('error')->nullable();
            $table->timestamps(6);
        });
        \Illuminate\Support\Facades\DB::statement('alter table exchanges add body longblob null');
    }
};
