<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::table('users', function (Blueprint $table): void {
            $table->dateTime('off_at')->nullable();
            $table->dateTime('seen_at')->nullable();
            $table->string('zone', 64)->default('UTC');
            $table->string('dates', 10)->default('iso');
            $table->string('numbers', 10)->default('space');
            // Sealed; a second factor is in use once it was confirmed.
            $table->text('totp_secret')->nullable();
            $table->dateTime('totp_confirmed_at')->nullable();
            // A code is taken once: the step of the last one.
            $table->unsignedBigInteger('totp_step')->default(0);
            $table->json('recovery_codes')->nullable();
            $table->string('provider_subject', 255)->nullable()->unique();
        });
        Schema::create('open_sessions', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('user_id')->constrained()->cascadeOnDelete();
            // A hash of what the browser's session holds, so that the table is no key to it.
            $table->char('mark', 64)->unique();
            $table->string('ip', 45)->nullable();
            $table->string('agent', 300)->default('');
            $table->dateTime('begun_at');
            $table->dateTime('seen_at')->index();
        });
        Schema::create('invitations', function (Blueprint $table): void {
            $table->id();
            $table->char('token', 64)->unique();
            $table->string('purpose', 20);
            $table->string('role', 20)->nullable();
            $table->string('name', 190)->nullable();
            $table->string('email', 190)->nullable();
            $table->foreignId('user_id')->nullable()->constrained()->cascadeOnDelete();
            $table->foreignId('made_by')->nullable()->constrained('users')->nullOnDelete();
            $table->dateTime('expires_at');
            $table->dateTime('used_at')->nullable();
            $table->timestamps();
        });
        Schema::create('settings', function (Blueprint $table): void {
            $table->string('name', 60)->primary();
            $table->text('value');
        });
    }
};
