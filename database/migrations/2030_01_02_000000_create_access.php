<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::create('allowed_hosts', function (Blueprint $table): void {
            $table->id();
            $table->string('host', 190);
            $table->unsignedSmallInteger('port');
            $table->string('note', 190)->nullable();
            $table->foreignId('added_by')->nullable()->constrained('users')->nullOnDelete();
            $table->timestamps(6);
            $table->unique(['host', 'port']);
        });
        // Keys that secrets are sealed with, themselves sealed with the key of the key file.
        Schema::create('data_keys', function (Blueprint $table): void {
            $table->id();
            $table->text('sealed');
            $table->timestamps(6);
        });
        Schema::table('secrets', function (Blueprint $table): void {
            $table->mediumText('sealed')->change();
            // A value that was given to take the place of this one, and has not been accepted yet.
            $table->mediumText('pending')->nullable();
            $table->date('ends_on')->nullable();
        });
        Schema::create('tokens', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('source_id')->constrained()->cascadeOnDelete();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            // Nought where one consent is for all.
            $table->unsignedBigInteger('person')->default(0);
            $table->string('scheme', 64);
            $table->mediumText('sealed');
            $table->dateTime('expires_at')->nullable();
            $table->boolean('renewable')->default(false);
            $table->string('scope', 1000)->nullable();
            $table->unsignedInteger('asked')->default(1);
            $table->timestamps(6);
            $table->unique(['source_id', 'environment_id', 'person', 'scheme']);
        });
        // Sign-ins that have begun: who comes back with this state began it, and there.
        Schema::create('consents', function (Blueprint $table): void {
            $table->id();
            $table->string('state', 64)->unique();
            $table->foreignId('source_id')->constrained()->cascadeOnDelete();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->foreignId('user_id')->constrained()->cascadeOnDelete();
            $table->string('scheme', 64);
            $table->text('verifier');
            $table->string('back', 500);
            $table->timestamps(6);
        });
        Schema::table('tries', function (Blueprint $table): void {
            $table->json('notes')->nullable();
        });
        Schema::table('exchanges', function (Blueprint $table): void {
            // What it was for: the request itself, or a token for it.
            $table->string('purpose', 16)->default('request');
        });
    }
};
