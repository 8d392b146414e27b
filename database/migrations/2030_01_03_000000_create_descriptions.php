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
        DB::statement('alter table exchanges add request_body longblob null after request, add digest longblob null after body');
        // Large answers in parts, so that one node of them is read without the rest.
        Schema::create('answer_parts', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('exchange_id')->constrained()->cascadeOnDelete();
            $table->char('node', 32)->charset('ascii');
            $table->unsignedInteger('number');
            $table->unsignedInteger('first');
            $table->index(['exchange_id', 'node', 'first']);
        });
        DB::statement('alter table answer_parts add content longblob not null');
        // What an imported description made, to tell later what people changed from what the API changed.
        Schema::create('descriptions', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('source_id')->constrained()->cascadeOnDelete();
            $table->string('kind', 20);
            $table->string('title', 190);
            $table->longText('endpoints');
            $table->foreignId('user_id')->nullable()->constrained()->nullOnDelete();
            $table->timestamps(6);
            $table->index(['source_id', 'id']);
        });
        // A description that was read and waits for somebody to choose from it.
        Schema::create('pending_imports', function (Blueprint $table): void {
            $table->id();
            $table->string('token', 40)->unique();
            $table->foreignId('user_id')->constrained()->cascadeOnDelete();
            $table->foreignId('source_id')->nullable()->constrained()->cascadeOnDelete();
            $table->string('kind', 20);
            $table->string('title', 190);
            // Sealed, since a command or a recording can hold secrets.
            $table->timestamps(6);
        });
        DB::statement('alter table pending_imports add found longblob not null');
    }
};
