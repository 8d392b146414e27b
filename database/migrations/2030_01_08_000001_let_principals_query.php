<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/*
 * Whoever asks is a principal, which need not be a person.
 */
return new class extends Migration
{
    public function up(): void
    {
        // Those who wait now ask again under the same ticket.
        Schema::drop('statement_turns');
        Schema::create('statement_turns', function (Blueprint $table): void {
            $table->id();
            $table->string('principal', 20)->index();
            $table->char('ticket', 32)->unique();
            $table->double('seen_at');
        });
        Schema::table('query_runs', function (Blueprint $table): void {
            $table->unsignedBigInteger('user_id')->nullable()->change();
        });
    }
};
