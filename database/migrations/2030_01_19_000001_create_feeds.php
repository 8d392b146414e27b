<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::create('feeds', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->foreignId('user_id')->constrained();
            $table->string('name', 60);
            $table->unsignedSmallInteger('version')->default(1);
            $table->string('title', 200)->default('');
            $table->text('about');
            // The table or view that it reads, and of that: columns with the names that readers see, rows, their key.
            $table->string('reads', 64);
            $table->json('columns');
            $table->text('condition');
            $table->json('key');
            $table->string('sort', 500)->default('');
            $table->unsignedInteger('page')->default(100);
            $table->unsignedInteger('most')->default(1000);
            $table->boolean('is_on')->default(false);
            $table->boolean('for_people')->default(true);
            $table->unsignedInteger('cache_seconds')->default(0);
            $table->unsignedInteger('oldest_minutes')->nullable();
            $table->json('origins');
            $table->string('fault', 1000)->nullable();
            $table->timestamps(6);
            $table->unique(['name', 'version']);
        });
        // Who reads feeds with a key: another application, a spreadsheet, a script.
        Schema::create('consumers', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('user_id')->constrained();
            $table->string('name', 100)->unique();
            $table->string('purpose', 500)->default('');
            // Addresses that it may come from; empty for all.
            $table->json('addresses');
            $table->unsignedInteger('a_minute')->default(60);
            $table->unsignedInteger('a_day')->default(10000);
            $table->unsignedBigInteger('rows_a_day')->nullable();
            $table->unsignedSmallInteger('at_once')->default(4);
            $table->dateTime('off_at', 6)->nullable();
            $table->timestamps(6);
        });
        Schema::create('consumer_feeds', function (Blueprint $table): void {
            $table->foreignId('consumer_id')->constrained()->cascadeOnDelete();
            $table->foreignId('feed_id')->constrained()->cascadeOnDelete();
            $table->primary(['consumer_id', 'feed_id']);
        });
        Schema::create('consumer_keys', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('consumer_id')->constrained()->cascadeOnDelete();
            $table->char('beginning', 10)->unique();
            $table->char('hash', 64);
            $table->dateTime('ends_at', 6)->nullable();
            $table->dateTime('used_at', 6)->nullable();
            $table->dateTime('created_at', 6);
        });
        // What a consumer asked for since the beginning of a span of so many seconds.
        Schema::create('consumer_counts', function (Blueprint $table): void {
            $table->foreignId('consumer_id')->constrained()->cascadeOnDelete();
            $table->unsignedInteger('span');
            $table->unsignedBigInteger('starts');
            $table->unsignedBigInteger('requests');
            $table->unsignedBigInteger('rows');
            $table->primary(['consumer_id', 'span']);
        });
        Schema::create('feed_calls', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('feed_id')->constrained()->cascadeOnDelete();
            $table->foreignId('consumer_id')->nullable()->constrained()->nullOnDelete();
            $table->foreignId('user_id')->nullable()->constrained()->nullOnDelete();
            $table->dateTime('at', 6);
            $table->string('form', 20);
            $table->string('asked', 1000);
            $table->unsignedBigInteger('rows')->default(0);
            $table->unsignedBigInteger('bytes')->default(0);
            $table->unsignedInteger('milliseconds')->default(0);
            $table->unsignedSmallInteger('status');
            $table->string('reason', 500)->nullable();
            $table->index(['feed_id', 'at']);
            $table->index(['consumer_id', 'at']);
            $table->index('at');
        });
    }
};
