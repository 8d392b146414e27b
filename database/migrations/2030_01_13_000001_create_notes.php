<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::create('notes', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->foreignId('source_id')->nullable()->constrained()->cascadeOnDelete();
            $table->foreignId('endpoint_id')->nullable()->constrained()->cascadeOnDelete();
            $table->string('table', 64)->nullable();
            $table->string('kind', 16);
            // What it is about, the same as long as it lasts; the second one is empty once it is over, so that there is one open note for one cause.
            $table->string('cause', 160);
            $table->string('open_cause', 160)->nullable();
            $table->boolean('is_failure');
            $table->string('title', 190);
            $table->string('sentence', 1000);
            // For those who may not see sources; nothing where it is none of theirs.
            $table->string('reader_sentence', 1000)->nullable();
            $table->string('advice', 1000)->nullable();
            $table->string('meanwhile', 1000)->nullable();
            $table->string('link', 300);
            $table->dateTime('since', 6);
            $table->dateTime('raised_at', 6);
            $table->dateTime('closed_at', 6)->nullable();
            $table->dateTime('aside_until', 6)->nullable();
            $table->foreignId('aside_by')->nullable()->constrained('users')->nullOnDelete();
            // Whether those who follow it have been told.
            $table->boolean('told_raised')->default(false);
            $table->boolean('told_closed')->default(false);
            $table->unique(['environment_id', 'open_cause']);
            $table->index(['environment_id', 'closed_at', 'raised_at']);
            $table->index(['cause', 'environment_id', 'id']);
            $table->index(['told_raised', 'told_closed']);
        });
        Schema::create('follows', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('user_id')->constrained()->cascadeOnDelete();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->foreignId('source_id')->nullable()->constrained()->cascadeOnDelete();
            $table->foreignId('endpoint_id')->nullable()->constrained()->cascadeOnDelete();
            $table->boolean('failures_only');
            $table->string('by', 8);
            $table->string('address', 500)->nullable();
            $table->text('secret')->nullable();
            // HH:MM in the time zone of the person; empty for at once.
            $table->char('daily_at', 5)->nullable();
            $table->dateTime('next_at', 6)->nullable();
            $table->dateTime('told_until', 6)->nullable();
            // Why nothing is sent any more.
            $table->string('ended', 500)->nullable();
            $table->timestamps(6);
        });
        Schema::create('deliveries', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('follow_id')->constrained()->cascadeOnDelete();
            $table->char('message', 30)->unique();
            $table->string('kind', 16);
            $table->string('subject', 200);
            $table->mediumText('body');
            $table->string('state', 8);
            $table->unsignedSmallInteger('attempts')->default(0);
            $table->dateTime('next_at', 6)->nullable();
            $table->unsignedSmallInteger('status')->nullable();
            $table->string('answer', 500)->nullable();
            $table->dateTime('created_at', 6);
            $table->dateTime('ended_at', 6)->nullable();
            $table->index(['state', 'next_at']);
            $table->index(['follow_id', 'id']);
        });
    }
};
