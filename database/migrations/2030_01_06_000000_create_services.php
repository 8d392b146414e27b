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
        // What services say of themselves, in each environment as it was read last.
        Schema::create('services', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('source_id')->constrained()->cascadeOnDelete();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->string('version', 10);
            $table->unsignedInteger('sets');
            $table->unsignedInteger('types');
            $table->unsignedBigInteger('bytes');
            $table->char('hash', 32);
            $table->json('left_out');
            $table->timestamp('read_at', 6);
            $table->timestamps(6);
            $table->unique(['source_id', 'environment_id']);
        });
        // Deflated: the model whole, and what a list of sets shows.
        DB::statement('alter table services add column model longblob not null, add column listing longblob not null');
    }
};
