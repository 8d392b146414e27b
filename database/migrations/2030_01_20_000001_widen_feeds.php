<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::table('feeds', function (Blueprint $table): void {
            // Ways to rows of other feeds: a name, the other feed, whether there are many, and which columns hold the same.
            $table->json('links')->default('[]')->after('sort');
            // Whether it has a second view, of when its rows began and ended.
            $table->boolean('tracks')->default(false)->after('links');
        });
        Schema::table('consumers', function (Blueprint $table): void {
            // What my('house') gives for it, by name; and tables that it may have refreshed, by environment and name.
            $table->json('values')->default('{}')->after('addresses');
            $table->json('refreshes')->default('[]')->after('values');
        });
        Schema::table('users', function (Blueprint $table): void {
            $table->json('values')->default('{}');
        });
        // Days with hundreds of thousands of requests are counted from an index alone, and the slowest ones found by one.
        Schema::table('feed_calls', function (Blueprint $table): void {
            $table->index(['feed_id', 'at', 'status']);
            $table->index(['feed_id', 'milliseconds']);
            $table->dropIndex(['feed_id', 'at']);
        });
        // Runs that a consumer asked for, so that asking again with the same key starts nothing.
        Schema::create('asked_runs', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('consumer_id')->constrained()->cascadeOnDelete();
            $table->foreignId('run_id')->constrained()->cascadeOnDelete();
            $table->char('mark', 64);
            $table->string('asked_for', 200);
            $table->dateTime('at', 6);
            $table->unique(['consumer_id', 'mark']);
        });
        // Accounts of the database with which tools read, for a person or for a consumer.
        Schema::create('door_accounts', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->foreignId('user_id')->nullable()->constrained()->cascadeOnDelete();
            $table->foreignId('consumer_id')->nullable()->constrained()->cascadeOnDelete();
            $table->string('name', 80)->unique();
            $table->unsignedSmallInteger('at_once')->default(4);
            $table->unsignedSmallInteger('seconds')->default(60);
            $table->dateTime('created_at', 6);
            $table->unique(['environment_id', 'user_id']);
            $table->unique(['environment_id', 'consumer_id']);
        });
    }
};
